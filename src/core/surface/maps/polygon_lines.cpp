#include "core/surface/maps/polygon_lines.h"

#include <algorithm>

#include "core/parallel.h"

namespace juvenor {
namespace {

class LineFollower {
 public:
  explicit LineFollower(const Surface& surface) : surface_(surface), on_(surface.neighbors.size(), 0) {}

  // Marks the edges from one sample to another along the straight way.
  void follow(uint32_t from, uint32_t to) {
    constexpr int kMostPieces = 4096;
    for (int k = 0; k < kMostPieces && from != to; ++k) {
      const uint32_t next = nextToward(from, to);
      if (next == kNone) return;
      mark(from, next);
      mark(next, from);
      from = next;
    }
  }
  bool isOn(uint32_t a, uint32_t b) const {
    const size_t at = placeOf(a, b);
    return at < on_.size() && on_[at];
  }

 private:
  // The neighbour that lies on the way, or nearest beside it; none when all lead away.
  uint32_t nextToward(uint32_t from, uint32_t to) const {
    const Vec3 way = surface_.positions[to] - surface_.positions[from];
    const float length = way.norm();
    uint32_t best = kNone;
    float least = 0.35f;  // of what a step goes forward it may go aside
    for (const uint32_t n : surface_.neighborsOf(from)) {
      if (n == to) return n;
      const Vec3 step = surface_.positions[n] - surface_.positions[from];
      const float forward = step.dot(way) / std::max(1e-30f, length);
      if (forward <= 0 || forward > length) continue;
      const float aside = std::sqrt(std::max(0.f, step.squaredNorm() - forward * forward)) / forward;
      if (aside < least) {
        least = aside;
        best = n;
      }
    }
    return best;
  }
  size_t placeOf(uint32_t a, uint32_t b) const {
    for (uint32_t i = surface_.neighborStart[a]; i < surface_.neighborStart[a + 1]; ++i)
      if (surface_.neighbors[i] == b) return i;
    return on_.size();
  }
  void mark(uint32_t a, uint32_t b) {
    if (const size_t at = placeOf(a, b); at < on_.size()) on_[at] = 1;
  }

  const Surface& surface_;
  std::vector<uint8_t> on_;  // parallel to the surface's neighbours
};

constexpr const char* kKey = "polygon lines";

}  // namespace

PolygonLines polygonLines(const Sculpt& sculpt, const Surface& surface) {
  LineFollower lines(surface);
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    const auto corners = sculpt.polygon(p);
    for (size_t k = 0; k < corners.size(); ++k) {
      const uint32_t a = surface.sampleOfVertex[corners[k]],
                     b = surface.sampleOfVertex[corners[(k + 1) % corners.size()]];
      // of an edge two polygons share once is enough
      if (a != b && !lines.isOn(a, b)) lines.follow(a, b);
    }
  }
  PolygonLines out(surface.triangles.size());
  parallel(out.size(), [&](size_t t) {
    const Triangle& c = surface.triangles[t];
    for (size_t k = 0; k < 3; ++k)
      if (lines.isOn(c[k], c[(k + 1) % 3])) out[t] = static_cast<uint8_t>(out[t] | 1u << k);
  });
  return out;
}

Result<std::shared_ptr<const PolygonLines>> polygonLinesOf(SurfaceMaps& maps, const Sculpt& sculpt) {
  return maps.derived<PolygonLines>(kKey, [&]() -> Result<std::shared_ptr<const PolygonLines>> {
    return std::make_shared<const PolygonLines>(polygonLines(sculpt, maps.surface()));
  });
}

bool arePolygonLinesReady(SurfaceMaps& maps) {
  return maps.hasDerived(kKey);
}

}  // namespace juvenor
