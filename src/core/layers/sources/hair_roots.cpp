#include "core/layers/sources/hair_roots.h"

#include <fmt/format.h>

#include <numeric>

#include "core/growth/skin_lines.h"
#include "core/seeded.h"
#include "core/surface/closest_on_triangle.h"

namespace juvenor {
namespace {

using Roots = std::vector<HairRoot>;

std::string keyOf(const Surface& surface, float apart, uint32_t seed) {
  return fmt::format("hair roots {} {}", rootsApart(surface, apart), seed);
}

HairRoot rootAt(const Surface& surface, uint32_t triangle, const Vec3& place, uint64_t draw) {
  const Triangle& t = surface.triangles[triangle];
  const auto& p = surface.positions;
  return {place, triangle, weightsOnTriangle(place, p[t[0]], p[t[1]], p[t[2]]), draw};
}

float lengthOf(std::span<const Vec3> places) {
  float out = 0;
  for (size_t i = 1; i < places.size(); ++i) out += (places[i] - places[i - 1]).norm();
  return out;
}

// The roots of one edge: a place every so far along it, a little aside of where it would be.
void addAlong(const Rays& rays, const SkinStroke& edge, float apart, Draws draws, Roots& out) {
  const float whole = lengthOf(edge.places);
  if (!(whole > 0)) return;
  float before = 0, next = 0.5f * apart;
  for (size_t i = 1; i < edge.places.size(); ++i) {
    const Vec3 way = edge.places[i] - edge.places[i - 1];
    const float length = way.norm();
    for (; next < before + length && out.size() < kMostRoots; next += apart) {
      const float at = std::clamp(next + 0.4f * apart * draws.around(), before, before + length);
      const Vec3 aside(draws.around(), draws.around(), draws.around());
      const Vec3 place = edge.places[i - 1] + (at - before) / length * way + 0.3f * edge.width * aside;
      const uint64_t draw = draws.bits();
      const auto skin = rays.nearest(place, 2 * edge.width + apart);
      if (!skin || skin->part != edge.part) continue;
      HairRoot root = rootAt(rays.surface(), skin->triangle, skin->position, draw);
      root.along = way / length;
      root.share = at / whole;
      out.push_back(root);
    }
    before += length;
  }
}

}  // namespace

float rootsApart(const Surface& surface, float apart) {
  const double area = std::reduce(surface.areas.begin(), surface.areas.end(), 0.0);
  return std::max(apart, static_cast<float>(std::sqrt(area / static_cast<double>(kMostRoots))));
}

Result<std::shared_ptr<const Roots>> rootsOver(SurfaceMaps& maps, float apart, uint32_t seed,
                                               const Progress& progress) {
  const Surface& surface = maps.surface();
  return maps.derived<Roots>(keyOf(surface, apart, seed), [&]() -> Result<std::shared_ptr<const Roots>> {
    auto lines = skinLines(surface, rootsApart(surface, apart), seed, progress);
    if (!lines) return lines.error();
    auto out = std::make_shared<Roots>();
    out->reserve(lines->size());
    for (const LineHit& hit : *lines) out->push_back(rootAt(surface, hit.triangle, hit.position, hit.draw));
    // (lines come in no order; fibres that follow each other lie near each other)
    std::ranges::sort(*out, [](const HairRoot& a, const HairRoot& b) {
      return std::tie(a.triangle, a.draw) < std::tie(b.triangle, b.draw);
    });
    return std::shared_ptr<const Roots>(std::move(out));
  });
}

bool hasRootsOver(SurfaceMaps& maps, float apart, uint32_t seed) {
  return maps.hasDerived(keyOf(maps.surface(), apart, seed));
}

Result<std::shared_ptr<const Roots>> rootsAlong(SurfaceMaps& maps, std::span<const SkinStroke> edges,
                                                float apart, uint32_t seed, const Progress& progress) {
  const auto rays = maps.rays(progress);
  if (!rays) return rays.error();
  auto out = std::make_shared<Roots>();
  for (size_t e = 0; e < edges.size(); ++e) addAlong(**rays, edges[e], apart, Draws(seed, e), *out);
  return std::shared_ptr<const Roots>(std::move(out));
}

}  // namespace juvenor
