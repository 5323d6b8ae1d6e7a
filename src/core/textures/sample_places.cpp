#include "core/textures/sample_places.h"

#include <cmath>

#include "core/cell_members.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// Everything the triangles around a place say of it.
struct Gathered {
  Vec2 uv;
  Vec2 middles = Vec2::Zero();  // of the triangles
  Eigen::Matrix2f spread = Eigen::Matrix2f::Zero();
  Vec3 tangent = Vec3::Zero();
  float side = 0;
  int triangles = 0, edges = 0;
  // What lies ahead of each triangle less what lies behind, as sums of mixed numbers: where the layout goes
  // on all around one's ahead is another's behind.
  uint64_t open = 0;
};

uint64_t mixed(uint64_t number) {
  number = (number + 1) * 0x9e3779b97f4a7c15ULL;
  return (number ^ (number >> 29)) * 0xbf58476d1ce4e5b9ULL;
}

SamplePlace placeOf(const Gathered& g, uint32_t sample, bool rim) {
  SamplePlace out;
  out.sample = sample;
  out.uv = g.uv;
  // the widest way is the first axis of the edges' ellipse; half of an edge is half a point's width
  const Eigen::Matrix2f s = g.spread / static_cast<float>(g.edges);
  const float mean = 0.5f * (s(0, 0) + s(1, 1)), part = 0.5f * (s(0, 0) - s(1, 1));
  const float reach = std::sqrt(part * part + s(0, 1) * s(0, 1)), angle = 0.5f * std::atan2(s(0, 1), part);
  // (the mean square over all directions is half of that along the axis)
  out.along = std::sqrt(std::max(0.f, 2 * (mean + reach))) / 2 * Vec2(std::cos(angle), std::sin(angle));
  out.across = std::sqrt(std::max(0.f, 2 * (mean - reach))) / 2;
  out.width = 2 * out.along.norm();
  if (rim) {
    // half of what it covers lies beyond the skin: it is asked about the place alone, a little inside
    constexpr float kRimWidth = 0.1f;
    out.inward = g.middles / static_cast<float>(g.triangles) - g.uv;
    out.along *= kRimWidth;
    out.across *= kRimWidth;
  }
  out.tangent << g.tangent, g.side < 0 ? -1.f : 1.f;
  return out;
}

}  // namespace

SamplePlaces samplePlaces(const Surface& surface, const WornMesh& worn, const SkinLayout& layout) {
  std::vector<uint32_t> sampleOf;
  sampleOf.reserve(3 * surface.triangles.size());
  for (const Triangle& t : surface.triangles) sampleOf.insert(sampleOf.end(), t.begin(), t.end());
  const CellMembers corners(sampleOf, surface.size());
  sampleOf = {};
  // a stretch of samples at a time, each with a list of its own
  constexpr size_t kStretch = 16384;
  const size_t stretches = (surface.size() + kStretch - 1) / kStretch;
  std::vector<std::vector<SamplePlace>> lists(stretches);
  parallel(
      stretches,
      [&](size_t stretch) {
        std::vector<Gathered> found;
        for (size_t s = stretch * kStretch; s < std::min(surface.size(), (stretch + 1) * kStretch); ++s) {
          found.clear();
          for (const uint32_t corner : corners.of(s)) {
            const size_t t = corner / 3, k = corner % 3;
            const auto& uv = worn.uv[layout.sculptTriangle[t]];
            const std::array<Vec2, 3> at{atCorner(uv, layout, t, 0), atCorner(uv, layout, t, 1),
                                         atCorner(uv, layout, t, 2)};
            if (!at[0].allFinite() || !at[1].allFinite() || !at[2].allFinite()) continue;
            auto known = std::ranges::find_if(
                found, [&](const Gathered& g) { return (g.uv - at[k]).squaredNorm() < 1e-12f; });
            if (known == found.end()) {
              found.emplace_back().uv = at[k];
              known = found.end() - 1;
            }
            known->middles += (at[0] + at[1] + at[2]) / 3;
            ++known->triangles;
            known->open +=
                mixed(surface.triangles[t][(k + 1) % 3]) - mixed(surface.triangles[t][(k + 2) % 3]);
            for (size_t o = 1; o < 3; ++o) {
              const Vec2 edge = at[(k + o) % 3] - at[k];
              known->spread += edge * edge.transpose();
              ++known->edges;
            }
            if (!worn.tangents.empty()) {
              const auto& tangents = worn.tangents[layout.sculptTriangle[t]];
              const Tangent tangent = atCorner(tangents, layout, t, k);
              known->tangent += tangent.head<3>();
              known->side += tangents[0].w();
            }
          }
          for (const Gathered& g : found)
            lists[stretch].push_back(placeOf(g, static_cast<uint32_t>(s), g.open != 0));
        }
      },
      1);
  SamplePlaces out;
  out.start.assign(surface.size() + 1, 0);
  for (auto& list : lists) {
    for (const SamplePlace& p : list) ++out.start[p.sample + 1];
    out.places.insert(out.places.end(), list.begin(), list.end());
    list = {};
  }
  for (size_t s = 0; s < surface.size(); ++s) out.start[s + 1] += out.start[s];
  return out;
}

}  // namespace juvenor
