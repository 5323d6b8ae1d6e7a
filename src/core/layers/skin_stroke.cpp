#include "core/layers/skin_stroke.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "core/json_fields.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// The cosine beyond which skin under a stroke has turned away from it.
constexpr float kTurnedFromStroke = 0.2f;
// Of the sculpt's size: no stroke is wider.
constexpr float kWidestStroke = 0.5f;
// No stretch from one place to the next is looked at more finely.
constexpr float kMostSteps = 1000;

// A sample under a stroke: how far it is from the middle line, and the pressure there.
struct Under {
  uint32_t sample;
  float away, pressure;
  bool operator<(const Under& o) const { return std::pair(sample, away) < std::pair(o.sample, o.away); }
};

Under underAt(const SkinStroke& stroke, size_t place, uint32_t sample, const Vec3& point) {
  const size_t next = std::min(place + 1, stroke.places.size() - 1);
  const Vec3 &from = stroke.places[place], along = stroke.places[next] - from;
  const float length2 = along.squaredNorm();
  const float t = length2 > 0 ? std::clamp((point - from).dot(along) / length2, 0.f, 1.f) : 0.f;
  const float pressure =
      stroke.pressures.empty()
          ? 1
          : stroke.pressures[place] + t * (stroke.pressures[next] - stroke.pressures[place]);
  return {sample, (point - from - t * along).norm(), pressure};
}

std::optional<SkinStroke> mirroredStroke(const Surface& surface, SkinStroke stroke, int axis,
                                         const Mirrors& mirrors) {
  const float reach = std::max(stroke.width, 6 * surface.spacing);
  uint32_t part = kNone;
  for (Vec3& place : stroke.places) {
    Mirrors::Across across{};
    across[static_cast<size_t>(axis)] = true;
    place = mirrors.place(place, across);
    const auto there = nearestSample(surface, place, reach);
    if (!there) return std::nullopt;
    if (part == kNone) part = surface.parts[*there];
  }
  stroke.part = part;
  return stroke;
}

Result<SkinStroke> strokeFrom(const nlohmann::json& given, const StrokeBounds& bounds) {
  SkinStroke out;
  const nlohmann::json *places = nullptr, *pressures = nullptr;
  const Outcome ok = JsonFields(given)
                         .list("places", places)
                         .whole("part", out.part)
                         .number("width", out.width, 0, 1e9f)
                         .number("strength", out.strength, bounds.weakest, 1)
                         .list("pressures", pressures)
                         .needs({"places"})
                         .done();
  if (!ok) return ok.error();
  for (const auto& j : *places) {
    const auto place = vectorFromJson(j);
    if (!place) return Error{"has a place that is no list of three numbers"};
    out.places.push_back(*place);
  }
  if (out.places.size() < bounds.places)
    return Error{bounds.places == 2 ? "needs two places at least" : "needs a place"};
  if (!pressures) return out;
  for (const auto& j : *pressures) {
    if (!j.is_number() || !(j.get<float>() >= 0 && j.get<float>() <= 1))
      return Error{"has a pressure that is no number from 0 to 1"};
    out.pressures.push_back(j.get<float>());
  }
  if (out.pressures.size() != out.places.size()) return Error{"needs as many pressures as places"};
  return out;
}

}  // namespace

void eachUnder(const Surface& surface, const SkinStroke& stroke,
               const std::function<void(uint32_t, float)>& each) {
  const float radius =
      0.5f * std::clamp(stroke.width, 1.2f * surface.spacing, kWidestStroke * surface.bounds.diagonal());
  std::vector<Under> under;
  std::vector<uint32_t> near;
  for (size_t i = 0; i < stroke.places.size(); ++i) {
    const Vec3 &from = stroke.places[i], &to = stroke.places[std::min(i + 1, stroke.places.size() - 1)];
    const auto count = static_cast<int>(std::ceil(std::min(kMostSteps, (to - from).norm() / radius))) + 1;
    for (int k = 0; k < count; ++k) {
      const Vec3 at = from + static_cast<float>(k) / static_cast<float>(count) * (to - from);
      const auto own = nearestSample(surface, at, 4 * radius, stroke.part);
      if (!own) continue;
      near.clear();
      samplesWithin(surface, at, 1.2f * radius, near);
      if (near.empty()) near.push_back(*own);
      for (const uint32_t s : near)
        if (surface.parts[s] == stroke.part &&
            surface.normals[s].dot(surface.normals[*own]) > kTurnedFromStroke)
          under.push_back(underAt(stroke, i, s, surface.positions[s]));
    }
  }
  std::sort(under.begin(), under.end());
  for (size_t i = 0; i < under.size(); ++i) {
    if (i > 0 && under[i].sample == under[i - 1].sample) continue;
    const float t = std::clamp(1 - under[i].away / radius, 0.f, 1.f);
    if (t > 0 && under[i].pressure > 0) each(under[i].sample, under[i].pressure * t * t * (3 - 2 * t));
  }
}

std::vector<SkinStroke> withMirrors(const Surface& surface, const SkinStroke& stroke,
                                    const std::array<bool, 3>& mirror, const Mirrors& mirrors) {
  std::vector<SkinStroke> out{stroke};
  for (int axis = 0; axis < 3; ++axis) {
    if (!mirror[static_cast<size_t>(axis)]) continue;
    const size_t count = out.size();
    for (size_t i = 0; i < count; ++i)
      if (auto other = mirroredStroke(surface, out[i], axis, mirrors)) out.push_back(std::move(*other));
  }
  return out;
}

nlohmann::json toJson(const std::vector<SkinStroke>& strokes) {
  nlohmann::json out = nlohmann::json::array();
  for (const SkinStroke& stroke : strokes) {
    nlohmann::json places = nlohmann::json::array();
    for (const Vec3& p : stroke.places) places.push_back({p.x(), p.y(), p.z()});
    out.push_back(
        {{"places", places}, {"part", stroke.part}, {"width", stroke.width}, {"strength", stroke.strength}});
    if (!stroke.pressures.empty()) out.back()["pressures"] = stroke.pressures;
  }
  return out;
}

Result<std::vector<SkinStroke>> strokesFrom(const nlohmann::json& json, std::string_view called,
                                            const StrokeBounds& bounds) {
  std::vector<SkinStroke> out;
  for (const auto& j : json) {
    auto stroke = strokeFrom(j, bounds);
    if (!stroke) return Error{fmt::format("{} {} {}", called, out.size() + 1, stroke.error().what)};
    out.push_back(std::move(*stroke));
  }
  return out;
}

}  // namespace juvenor
