#include "core/layers/guides.h"

#include <fmt/format.h>

#include <cmath>

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"
#include "core/parallel.h"
#include "core/surface/search.h"

namespace juvenor {
namespace {

// The cosine beyond which skin under a comb has turned away from it.
constexpr float kTurnedFromComb = 0.2f;

// Of the sculpt's size: no comb is wider.
constexpr float kWidestComb = 0.5f;

// The samples under a comb are drawn the way it goes.
void addWishes(const Surface& surface, const Comb& comb, std::vector<DirectionWish>& out) {
  const float radius =
      0.5f * std::clamp(comb.width, 1.2f * surface.spacing, kWidestComb * surface.bounds.diagonal());
  std::vector<uint32_t> near;
  for (size_t i = 0; i + 1 < comb.places.size(); ++i) {
    const Vec3 &from = comb.places[i], step = comb.places[i + 1] - from;
    const auto count = static_cast<int>(std::ceil(std::min(1000.f, step.norm() / radius))) + 1;
    for (int k = 0; k < count; ++k) {
      const Vec3 at = from + static_cast<float>(k) / static_cast<float>(count) * step;
      const auto own = nearestSample(surface, at, 4 * radius, comb.part);
      if (!own) continue;
      near.clear();
      samplesWithin(surface, at, radius, near);
      if (near.empty()) near.push_back(*own);
      for (const uint32_t s : near)
        if (surface.parts[s] == comb.part && surface.normals[s].dot(surface.normals[*own]) > kTurnedFromComb)
          out.push_back({s, step, comb.strength});
    }
  }
}

std::shared_ptr<const DirectionLadder> directionLadder(SurfaceMaps& maps) {
  size_t bytes = 0;
  return *maps.derived<DirectionLadder>(
      "direction ladder", bytes, [&]() -> Result<std::shared_ptr<const DirectionLadder>> {
        auto out = std::make_shared<DirectionLadder>(maps.surface(), maps.ladder());
        bytes = out->bytes();
        return std::shared_ptr<const DirectionLadder>(std::move(out));
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

}  // namespace

Result<std::shared_ptr<const std::vector<Vec3>>> directionsOf(SurfaceMaps& maps, const DirectionGuide& guide,
                                                              Symmetry symmetry, const Progress& progress) {
  using Directions = std::vector<Vec3>;
  size_t bytes = 0;
  const std::string key = fmt::format("directions {} {}", static_cast<int>(symmetry), toJson(guide).dump());
  return maps.derived<Directions>(key, bytes, [&]() -> Result<std::shared_ptr<const Directions>> {
    const Surface& surface = maps.surface();
    std::vector<DirectionWish> wishes;
    for (const Comb& comb : guide.combs) {
      if (!report(progress, 0)) return cancelledError();
      addWishes(surface, comb, wishes);
    }
    auto field = directionField(surface, *directionLadder(maps),
                                {symmetry, guide.flow, guide.curvature, guide.form}, wishes, progress);
    if (!field) return field.error();
    turnAll(surface, guide.turn, *field);
    bytes = sizeof(Vec3) * field->size();
    return std::make_shared<const Directions>(std::move(*field));
  });
}

Result<std::shared_ptr<const Sizes>> sizesOf(SurfaceMaps& maps, const SizeGuide& guide,
                                             const Progress& progress) {
  size_t bytes = 0;
  return maps.derived<Sizes>(
      "sizes " + toJson(guide).dump(), bytes, [&]() -> Result<std::shared_ptr<const Sizes>> {
        auto share = shares(maps, guide, progress);
        if (!share) return share.error();
        const float least = kLeastSpacings * maps.surface().spacing;
        const bool even = guide.maps.empty() && guide.smaller.empty();
        auto out = std::make_shared<Sizes>();
        out->finest = std::max(least, guide.size * (even ? 1.f : guide.smallest));
        out->of = std::move(*share);
        for (float& v : out->of)
          v = std::max(least, guide.size * (guide.smallest + v * (1 - guide.smallest)));
        bytes = sizeof(float) * out->of.size();
        return std::shared_ptr<const Sizes>(std::move(out));
      });
}

Guides turned(Guides guides, const Eigen::Matrix3f& turn) {
  for (Comb& comb : guides.direction.combs)
    for (Vec3& place : comb.places) place = turn * place;
  for (HueZone& zone : guides.size.smaller) zone.anchor = turn * zone.anchor;
  return guides;
}

Guides usualGuides(float diagonal) {
  Guides out;
  out.direction.form = 0.05f * diagonal;
  out.size.size = 0.012f * diagonal;
  return out;
}

namespace {

nlohmann::json toJson(const Comb& comb) {
  nlohmann::json places = nlohmann::json::array();
  for (const Vec3& p : comb.places) places.push_back({p.x(), p.y(), p.z()});
  return {{"places", places}, {"part", comb.part}, {"width", comb.width}, {"strength", comb.strength}};
}

Result<Comb> combFrom(const nlohmann::json& given) {
  Comb out;
  const nlohmann::json* places = nullptr;
  const Outcome ok = JsonFields(given)
                         .list("places", places)
                         .whole("part", out.part)
                         .number("width", out.width, 0, 1e9f)
                         .number("strength", out.strength, 0, 1)
                         .needs({"places"})
                         .done();
  if (!ok) return ok.error();
  for (const auto& j : *places) {
    const auto place = vectorFromJson(j);
    if (!place) return Error{"has a place that is no list of three numbers"};
    out.places.push_back(*place);
  }
  if (out.places.size() < 2) return Error{"needs two places at least"};
  return out;
}

}  // namespace

nlohmann::json toJson(const DirectionGuide& guide) {
  nlohmann::json combs = nlohmann::json::array();
  for (const Comb& comb : guide.combs) combs.push_back(toJson(comb));
  return {{"flow", {guide.flow.x(), guide.flow.y(), guide.flow.z()}},
          {"curvature", guide.curvature},
          {"form", guide.form},
          {"turn", guide.turn},
          {"combs", combs}};
}

nlohmann::json toJson(const SizeGuide& guide) {
  return {{"size", guide.size},
          {"smallest", guide.smallest},
          {"maps", toJson(guide.maps)},
          {"zones", toJson(ZoneSet{guide.smaller, 0})["zones"]}};
}

Result<DirectionGuide> directionGuideFrom(const nlohmann::json& given, DirectionGuide out) {
  const nlohmann::json* combs = nullptr;
  const Outcome ok = JsonFields(given)
                         .vector("flow", out.flow)
                         .number("curvature", out.curvature, 0, 1)
                         .number("form", out.form, 1e-6f, 1e9f)
                         .number("turn", out.turn, -360, 360)
                         .list("combs", combs)
                         .done();
  if (!ok) return Error{"a direction " + ok.error().what};
  out.flow = normalizedOr(out.flow, Vec3::Zero());
  if (!combs) return out;
  out.combs.clear();
  for (const auto& j : *combs) {
    auto comb = combFrom(j);
    if (!comb) return Error{fmt::format("comb {} {}", out.combs.size() + 1, comb.error().what)};
    out.combs.push_back(std::move(*comb));
  }
  return out;
}

Result<SizeGuide> sizeGuideFrom(const nlohmann::json& given, SizeGuide out) {
  const nlohmann::json *maps = nullptr, *zones = nullptr;
  const Outcome ok = JsonFields(given)
                         .number("size", out.size, 1e-6f, 1e9f)
                         .number("smallest", out.smallest, 0.1f, 1)
                         .list("maps", maps)
                         .list("zones", zones)
                         .done();
  if (!ok) return Error{"a size " + ok.error().what};
  if (const Outcome read = readPlaces(maps, zones, out.maps, out.smaller); !read)
    return Error{"a size: " + read.error().what};
  return out;
}

Outcome readGuides(const nlohmann::json* direction, const nlohmann::json* size, Guides& out) {
  if (direction) {
    auto read = directionGuideFrom(*direction, out.direction);
    if (!read) return read.error();
    out.direction = std::move(*read);
  }
  if (size) {
    auto read = sizeGuideFrom(*size, out.size);
    if (!read) return read.error();
    out.size = std::move(*read);
  }
  return Done{};
}

}  // namespace juvenor
