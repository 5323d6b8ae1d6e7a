// What the UVs of a sculpt or document lay out, as JSON.
#include <fmt/format.h>

#include <iostream>

#include "batch/commands.h"
#include "batch/uv_set.h"
#include "batch/work.h"
#include "core/json_fields.h"
#include "core/sculpt/formats.h"
#include "core/surface/build/placement.h"
#include "core/textures/unwrap.h"
#include "core/textures/uv_layout.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

constexpr size_t kIslandsTold = 12;

struct Measured {
  std::shared_ptr<const Sculpt> sculpt;
  float millimetres = 1;
};

Result<Measured> measuredSculpt(const fs::path& file) {
  if (isDocument(file)) {
    auto store = Store::open(file, true);
    if (!store) return store.error();
    const auto shown = store->readShown();
    if (!shown) return shown.error();
    const Document& d = shown->steps.front()->document;
    return Measured{d.sculpt, d.placement.millimetres};
  }
  auto sculpt = readSculpt(file);
  if (!sculpt) return sculpt.error();
  const float millimetres = guessedPlacement(*sculpt, endingOf(file)).placement.millimetres;
  return Measured{std::make_shared<const Sculpt>(std::move(*sculpt)), millimetres};
}

}  // namespace

Outcome uv(const fs::path& file, const std::string& set, int pixels) {
  const auto measured = measuredSculpt(file);
  if (!measured) return measured.error();
  const Sculpt& sculpt = *measured->sculpt;
  const auto index = setOf(sculpt, set);
  if (!index) return Error{index.error().what, file.string()};
  const auto layout = uvLayout(sculpt, *index);
  if (!layout) return layout.error();
  json sets = json::array(), tiles = json::array(), islands = json::array();
  for (const UvSet& s : sculpt.uvSets) sets.push_back(s.name);
  for (const UvTile& t : layout->tiles)
    tiles.push_back({{"tile", t.number}, {"filled", t.filled}, {"doubled", t.doubled}});
  size_t mirrored = 0;
  for (const UvIsland& i : layout->islands) mirrored += i.mirrored;
  const double mm = static_cast<double>(measured->millimetres);
  for (const UvIsland& i : std::span(layout->islands).first(std::min(kIslandsTold, layout->islands.size())))
    islands.push_back({{"part", sculpt.parts[i.part]},
                       {"triangles", i.triangles},
                       {"skin mm2", i.skin * mm * mm},
                       {"part of a tile", i.area},
                       {"tile", tileOf(0.5f * (i.low + i.high)).value_or(0)},
                       {"mirrored", i.mirrored}});
  const auto perMm = [&](float density) { return static_cast<double>(density) * pixels / mm; };
  const json out{{"sets", sets},
                 {"set", sculpt.uvSets[*index].name},
                 {"triangles", layout->triangles},
                 {"polygons without UVs", layout->missing},
                 {"folded triangles", layout->folded},
                 {"triangles without area", layout->flat},
                 {"triangles outside all tiles", layout->outside},
                 {"islands", layout->islands.size()},
                 {"mirrored islands", mirrored},
                 {"largest islands", islands},
                 {"tiles", tiles},
                 {"stretch", {{"mean", layout->stretch}, {"worst", layout->worst}}},
                 {"pixels per mm",
                  {{"at", pixels},
                   {"thin", perMm(layout->thin)},
                   {"middle", perMm(layout->middle)},
                   {"dense", perMm(layout->dense)}}}};
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

namespace {

json told(const Unwrapped& done) {
  return {{"islands", done.islands}, {"stretch", done.stretch}, {"filled", done.filled}};
}

// The document with one step more, in a file of its own or in the same.
Outcome unwrapDocument(const UnwrapCommand& said, const UnwrapSetting& setting) {
  if (!isDocument(said.out))
    return Error{"a document with UVs is a document: give it a name that ends in .juvenor",
                 said.out.string()};
  auto work = openWork(said.file, true);
  if (!work) return work.error();
  Unwrapped made;
  auto next = withUnwrapped(work->history.document(), setting, {}, &made);
  if (!next) return next.error();
  const json out = told(made);
  work->history.push(std::move(*next), "Unwrap");
  const std::vector<StepPointer> steps(work->history.steps().begin(), work->history.steps().end());
  if (const auto saved = saveAs(said.out, steps, steps.back()->id); !saved) return saved.error();
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

}  // namespace

Outcome unwrap(const UnwrapCommand& said) {
  if (const Outcome may = mayWrite(said.out, said.force); !may) return may;
  UnwrapSetting setting;
  setting.name = said.name;
  setting.tiles = said.tiles;
  setting.padding = said.padding;
  if (isDocument(said.file)) return unwrapDocument(said, setting);
  auto sculpt = readSculpt(said.file);
  if (!sculpt) return sculpt.error();
  const auto hidden = hiddenAtVertices(*sculpt);
  if (!hidden) return hidden.error();
  auto done = unwrapped(*sculpt, setting, *hidden);
  if (!done) return done.error();
  const json out = told(*done);
  // formats have room for one set: the new one comes first
  sculpt->uvSets.insert(sculpt->uvSets.begin(), std::move(done->set));
  VertexFinish finish;
  finish.normals = sculpt->normals;
  finish.colors = sculpt->colors;
  if (const Outcome ok = writeSculpt(said.out, *sculpt, finish); !ok) return ok;
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

}  // namespace juvenor::batch
