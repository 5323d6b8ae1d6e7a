#include "core/layers/cell_touch.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/color/color_json.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

constexpr std::string_view kTouchKeys[] = {"tint", "lift", "lose", "restore"};

void apply(const CellTouch& touch, TouchedCell& cell) {
  switch (touch.kind) {
    case CellTouch::Kind::Tint:
      cell.tint = touch.color;
      cell.tinted = std::clamp(touch.amount, 0.f, 1.f);
      break;
    case CellTouch::Kind::Lift:
      cell.light = std::clamp(cell.light + touch.amount, -1.f, 1.f);
      break;
    case CellTouch::Kind::Lose:
      cell.lost = true;
      break;
    case CellTouch::Kind::Restore:
      cell = {cell.cell, {}, 0, 0, false};
      break;
  }
}

Result<CellTouch> touchFrom(const nlohmann::json& given) {
  CellTouch out;
  std::string what;
  const Outcome ok = JsonFields(given)
                         .text("do", what)
                         .vector("place", out.place)
                         .whole("part", out.part)
                         .value("color", out.color, kJsonColor)
                         .number("amount", out.amount, -1, 1)
                         .needs({"do", "place"})
                         .done();
  if (!ok) return ok.error();
  const auto known = std::ranges::find(kTouchKeys, what);
  if (known == std::end(kTouchKeys)) return Error{fmt::format("knows no '{}'", what)};
  out.kind = static_cast<CellTouch::Kind>(known - std::begin(kTouchKeys));
  return out;
}

}  // namespace

std::vector<TouchedCell> touchedCells(const Surface& surface, const CellPlaces& places,
                                      std::span<const CellTouch> touches) {
  std::map<uint32_t, TouchedCell> cells;
  for (const CellTouch& touch : touches) {
    const auto sample = nearestSample(surface, touch.place, 4 * surface.spacing, touch.part);
    if (!sample || places.of[*sample].cell == kNone) continue;
    TouchedCell& cell = cells[places.of[*sample].cell];
    cell.cell = places.of[*sample].cell;
    apply(touch, cell);
  }
  std::vector<TouchedCell> out;
  for (const auto& [at, cell] : cells)
    if (cell != TouchedCell{cell.cell, cell.tint, 0, 0, false}) out.push_back(cell);
  return out;
}

std::string_view touchKey(CellTouch::Kind kind) {
  return kTouchKeys[static_cast<size_t>(kind)];
}

nlohmann::json toJson(const std::vector<CellTouch>& touches) {
  nlohmann::json out = nlohmann::json::array();
  for (const CellTouch& t : touches) {
    nlohmann::json touch{{"do", touchKey(t.kind)},
                         {"place", {t.place.x(), t.place.y(), t.place.z()}},
                         {"part", t.part},
                         {"amount", t.amount}};
    if (t.kind == CellTouch::Kind::Tint) touch["color"] = toJson(t.color);
    out.push_back(std::move(touch));
  }
  return out;
}

Result<std::vector<CellTouch>> cellTouchesFrom(const nlohmann::json& json) {
  std::vector<CellTouch> out;
  for (const auto& j : json) {
    auto touch = touchFrom(j);
    if (!touch) return Error{fmt::format("touched scale {} {}", out.size() + 1, touch.error().what)};
    out.push_back(std::move(*touch));
  }
  return out;
}

}  // namespace juvenor
