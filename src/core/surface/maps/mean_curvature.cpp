// Mean curvature by the cotangent operator (Meyer, Desbrun, Schröder, Barr 2003), then averaged by area over
// forms of a size: the integral of the curvature normal over a piece of skin depends on its rim alone, so the
// average is the curvature of the form and not that of the mesh.
#include <tbb/parallel_for.h>

#include "core/surface/maps/measures.h"
#include "core/surface/melt.h"

namespace juvenor {
namespace {

// Sum over the edges of half the cotangents across times the step, along the normal. An edge with a triangle
// on one side only lies on the rim of an open surface, where the operator means nothing.
float pointwise(const Surface& surface, uint32_t s) {
  const auto around = surface.neighborsOf(s);
  const Vec3& p = surface.positions[s];
  Vec3 sum = Vec3::Zero();
  for (const uint32_t n : around) {
    const Vec3& q = surface.positions[n];
    const auto other = surface.neighborsOf(n);
    float cotangents = 0;
    int sides = 0;
    for (size_t i = 0, k = 0; i < around.size() && k < other.size();) {
      if (around[i] < other[k]) {
        ++i;
      } else if (around[i] > other[k]) {
        ++k;
      } else {
        const Vec3 u = p - surface.positions[around[i]], v = q - surface.positions[around[i]];
        const float sine = u.cross(v).norm();
        if (sine > 0) cotangents += u.dot(v) / sine;
        ++sides;
        ++i;
        ++k;
      }
    }
    if (sides < 2) return 0;
    sum += 0.5f * cotangents * (p - q);
  }
  return surface.areas[s] > 0 ? sum.dot(surface.normals[s]) / (2 * surface.areas[s]) : 0.f;
}

}  // namespace

Measure meanCurvature(const Surface& surface, const SkinLadder& ladder, float scale,
                      const Progress& progress) {
  std::vector<float> out(surface.size());
  tbb::parallel_for(tbb::blocked_range<size_t>(0, surface.size(), 4096), [&](const auto& range) {
    for (size_t s = range.begin(); s != range.end(); ++s)
      out[s] = pointwise(surface, static_cast<uint32_t>(s));
  });
  // a needle of a triangle can give any value; no form is finer than the spacing
  const float most = surface.spacing > 0 ? 2 / surface.spacing : 0.f;
  for (float& h : out) h = std::clamp(h, -most, most);
  if (!report(progress, 0.4f)) return cancelledError();
  melt(ladder, out, 0.5f * scale);
  if (!report(progress, 1.f)) return cancelledError();
  return out;
}

}  // namespace juvenor
