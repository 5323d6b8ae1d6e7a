#include "core/layers/guides.h"

#include <fmt/format.h>

#include <cmath>

#include "core/growth/kept_arrays.h"
#include "core/json_fields.h"
#include "core/layers/places.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

using Directions = std::vector<Vec3>;

// The samples under a comb are drawn the way it goes.
void addWishes(const Surface& surface, const Comb& comb, std::vector<DirectionWish>& out) {
  for (size_t i = 0; i + 1 < comb.places.size(); ++i) {
    Comb step{{comb.places[i], comb.places[i + 1]}, comb.part, comb.width, comb.strength};
    if (!comb.pressures.empty()) step.pressures = {comb.pressures[i], comb.pressures[i + 1]};
    const Vec3 way = step.places[1] - step.places[0];
    eachUnder(surface, step, [&](uint32_t s, float weight) {
      out.push_back({s, way, comb.strength * weight});
    });
  }
}

std::shared_ptr<const DirectionLadder> directionLadder(SurfaceMaps& maps) {
  return *maps.derived<DirectionLadder>(
      "direction ladder", [&]() -> Result<std::shared_ptr<const DirectionLadder>> {
        return std::make_shared<const DirectionLadder>(maps.surface(), maps.ladder());
      });
}

void turnAll(const Surface& surface, float degrees, std::vector<Vec3>& directions) {
  if (degrees == 0) return;
  const float angle = degrees * 3.14159265f / 180, c = std::cos(angle), s = std::sin(angle);
  parallel(directions.size(), [&](size_t i) {
    directions[i] = c * directions[i] + s * surface.normals[i].cross(directions[i]);
  });
}

// 0…1 at each sample: how far the size is from the smallest.
Result<std::vector<float>> shares(SurfaceMaps& maps, const SizeGuide& guide, const Progress& progress) {
  std::vector<float> out(maps.size(), 1);
  if (!guide.maps.empty()) {
    const auto mask = maskOf(maps, guide.maps, progress);
    if (!mask) return mask.error();
    const ScalarField& field = **mask;
    parallel(out.size(), [&](size_t s) { out[s] = static_cast<float>(field.at(s)[0]) / 65535.f; });
  }
  for (const HueZone& zone : guide.smaller) {
    const ZoneInfluencePointer influence = influenceOf(maps, zone, 0);
    for (size_t i = 0; i < influence->samples.size(); ++i)
      out[influence->samples[i]] *= 1 - std::min(1.f, zone.strength * influence->values[i]);
  }
  return out;
}

// Before they are turned. On a piece those of the whole, unless they are still to be found: then what the
// piece alone makes of them.
Result<std::shared_ptr<const Directions>> levelDirections(SurfaceMaps& maps, const DirectionGuide& guide,
                                                          Symmetry symmetry, const Progress& progress) {
  const std::string key = fmt::format("directions {} {}", static_cast<int>(symmetry), textOf(toJson(guide)));
  return maps.derived<Directions>(key, [&]() -> Result<std::shared_ptr<const Directions>> {
    const Surface& surface = maps.surface();
    if (maps.whole() && maps.whole()->hasDerived(key)) {
      const auto whole = levelDirections(*maps.whole(), guide, symmetry, progress);
      if (!whole) return whole.error();
      return std::make_shared<const Directions>(cutValues(*maps.cut(), **whole));
    }
    std::vector<DirectionWish> wishes;
    for (const Comb& comb : guide.combs) {
      if (!report(progress, 0)) return cancelledError();
      addWishes(surface, comb, wishes);
    }
    auto field = directionField(surface, *directionLadder(maps),
                                {symmetry, guide.flow, guide.curvature, guide.form}, wishes, progress);
    if (!field) return field.error();
    return std::make_shared<const Directions>(std::move(*field));
  });
}

}  // namespace

Result<std::shared_ptr<const std::vector<Vec3>>> directionsOf(SurfaceMaps& maps, const DirectionGuide& guide,
                                                              Symmetry symmetry, const Progress& progress) {
  DirectionGuide level = guide;
  level.turn = 0;
  auto field = levelDirections(maps, level, symmetry, progress);
  if (!field || guide.turn == 0) return field;
  auto turned = std::make_shared<Directions>(**field);
  turnAll(maps.surface(), guide.turn, *turned);
  return std::shared_ptr<const Directions>(std::move(turned));
}
Result<std::vector<float>> wishedSizes(SurfaceMaps& maps, const SizeGuide& guide, const Progress& progress) {
  constexpr float kMostOctaves = 2;
  auto out = shares(maps, guide, progress);
  if (!out) return out;
  for (float& v : *out) v = guide.size * (guide.smallest + v * (1 - guide.smallest));
  if (guide.pushed.empty()) return out;
  std::vector<float> octaves(out->size(), 0);
  for (const SkinStroke& stroke : guide.pushed)
    eachUnder(maps.surface(), stroke,
              [&](uint32_t s, float weight) { octaves[s] += stroke.strength * weight; });
  for (size_t s = 0; s < octaves.size(); ++s)
    if (octaves[s] != 0) (*out)[s] *= std::exp2(std::clamp(octaves[s], -kMostOctaves, kMostOctaves));
  return out;
}

Result<std::shared_ptr<const Sizes>> sizesOf(SurfaceMaps& maps, const SizeGuide& guide,
                                             const Progress& progress) {
  return maps.derived<Sizes>("sizes " + textOf(growthOf(guide)),
                             [&]() -> Result<std::shared_ptr<const Sizes>> {
                               auto wished = wishedSizes(maps, guide, progress);
                               if (!wished) return wished.error();
                               const float least = kLeastSpacings * maps.surface().spacing;
                               auto out = std::make_shared<Sizes>();
                               out->of = std::move(*wished);
                               out->wished = out->of.empty() ? guide.size : std::ranges::min(out->of);
                               out->finest = std::max(least, out->wished);
                               for (float& v : out->of) v = std::max(least, v);
                               return std::shared_ptr<const Sizes>(std::move(out));
                             });
}

void keepFineness(const Fineness& fineness, std::string& out) {
  keepArray(std::span<const Fineness>(&fineness, 1), out);
}

bool takeFineness(std::string_view& bytes, Fineness& out) {
  std::vector<Fineness> one;
  if (!takeArray(bytes, 1, one)) return false;
  out = one.front();
  return std::isfinite(out.finest) && std::isfinite(out.wished) && out.wished > 0;
}

std::string noteOf(const Fineness& sizes) {
  constexpr float kHardly = 0.95f;
  if (sizes.wished >= kHardly * sizes.finest) return {};
  return fmt::format(
      "Points are too few for forms as small as asked: they are {:.0f} % larger where they would be "
      "smallest. "
      "Add points, or make them larger.",
      100 * (sizes.finest / sizes.wished - 1));
}

namespace {

constexpr Member<DirectionGuide> kDirectionMembers[] = {
    {{"curvature", "Along forms", "How much it lies along limbs, ridges and creases"},
     [](DirectionGuide& g) -> float& { return g.curvature; }},
    {{"form", "Forms", "The size of those", MemberUnit::Length, kLeastLength, kEndless, 0.005f, 0.3f},
     [](DirectionGuide& g) -> float& { return g.form; }},
    {{"turn", "Turn", "How it lies against the direction", MemberUnit::Degrees, -360, 360, -90, 90},
     [](DirectionGuide& g) -> float& { return g.turn; }},
};
constexpr Member<SizeGuide> kSizeMembers[] = {
    {{"size", "Size", "How large its forms are", MemberUnit::Length, kLeastLength, kEndless, 0.001f, 0.1f},
     [](SizeGuide& g) -> float& { return g.size; }},
    {{"smallest", "Smallest", "Of that, where areas and maps make it small", MemberUnit::Part, 0.1f, 1},
     [](SizeGuide& g) -> float& { return g.smallest; }},
};

}  // namespace

template <>
std::span<const Member<DirectionGuide>> membersOf() {
  return kDirectionMembers;
}
template <>
std::span<const Member<SizeGuide>> membersOf() {
  return kSizeMembers;
}

Guides usualGuides(float diagonal) {
  Guides out;
  out.direction.form = 0.05f * diagonal;
  out.size.size = 0.012f * diagonal;
  return out;
}

nlohmann::json toJson(const DirectionGuide& guide) {
  nlohmann::json out{{"flow", {guide.flow.x(), guide.flow.y(), guide.flow.z()}},
                     {"combs", toJson(guide.combs)}};
  addMembers(out, guide);
  return out;
}

nlohmann::json toJson(const SizeGuide& guide) {
  nlohmann::json out{{"maps", toJson(guide.maps)},
                     {"zones", toJson(ZoneSet{guide.smaller, 0})["zones"]},
                     {"pushed", toJson(guide.pushed)}};
  addMembers(out, guide);
  return out;
}

nlohmann::json growthOf(const SizeGuide& guide) {
  nlohmann::json out = toJson(guide);
  out["zones"] = withoutNames(std::move(out["zones"]));
  return out;
}

Result<DirectionGuide> directionGuideFrom(const nlohmann::json& given, DirectionGuide out) {
  const nlohmann::json* combs = nullptr;
  JsonFields fields(given);
  fields.vector("flow", out.flow).list("combs", combs);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"a direction " + ok.error().what};
  out.flow = normalizedOr(out.flow, Vec3::Zero());
  if (!combs) return out;
  auto read = strokesFrom(*combs, "comb", {2, 0});
  if (!read) return read.error();
  out.combs = std::move(*read);
  return out;
}

Result<SizeGuide> sizeGuideFrom(const nlohmann::json& given, SizeGuide out) {
  const nlohmann::json *maps = nullptr, *zones = nullptr, *pushed = nullptr;
  JsonFields fields(given);
  fields.list("maps", maps).list("zones", zones).list("pushed", pushed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"a size " + ok.error().what};
  if (const Outcome read = readPlaces(maps, zones, out.maps, out.smaller); !read)
    return Error{"a size: " + read.error().what};
  if (!pushed) return out;
  auto read = strokesFrom(*pushed, "stroke", {1, -1});
  if (!read) return Error{"a size: " + read.error().what};
  out.pushed = std::move(*read);
  return out;
}

void addGuides(const Guides& guides, nlohmann::json& parameters) {
  parameters["direction"] = toJson(guides.direction);
  parameters["size"] = toJson(guides.size);
  parameters["soothed"] = toJson(guides.soothed);
  if (!guides.cells.empty()) parameters["touched"] = toJson(guides.cells);
  if (!guides.edges.empty()) parameters["edges"] = toJson(guides.edges);
}

Outcome readGuides(const GivenGuides& given, Guides& out) {
  if (given.direction) {
    auto read = directionGuideFrom(*given.direction, out.direction);
    if (!read) return read.error();
    out.direction = std::move(*read);
  }
  if (given.size) {
    auto read = sizeGuideFrom(*given.size, out.size);
    if (!read) return read.error();
    out.size = std::move(*read);
  }
  if (given.soothed) {
    auto read = strokesFrom(*given.soothed, "soothed: stroke", {1, -1});
    if (!read) return read.error();
    out.soothed = std::move(*read);
  }
  if (given.edges) {
    auto read = strokesFrom(*given.edges, "edge", {2, 0});
    if (!read) return read.error();
    out.edges = std::move(*read);
  }
  if (given.touched) {
    auto read = cellTouchesFrom(*given.touched);
    if (!read) return read.error();
    out.cells = std::move(*read);
  }
  return Done{};
}

}  // namespace juvenor
