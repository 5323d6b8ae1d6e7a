// Mean curvature by the cotangent operator (Meyer, Desbrun, Schröder, Barr 2003), then averaged by area over
// forms of a size: the integral of the curvature normal over a piece of skin depends on its rim alone, so the
// average is the curvature of the form and not that of the mesh.
#include <algorithm>

#include "core/parallel.h"
#include "core/surface/graph/melt.h"
#include "core/surface/maps/measures.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {
namespace {

// Sum over the edges of half the cotangents across times the step, along the normal. An edge with a triangle
// on one side only lies on the rim of an open surface, where the operator means nothing.
float pointwise(const Surface& surface, uint32_t s) {
  Vec3 sum = Vec3::Zero();
  for (const uint32_t n : surface.neighborsOf(s)) {
    const Cotangents across = cotangentsAcross(surface, s, n);
    if (across.sides < 2) return 0;
    sum += 0.5f * across.sum * (surface.positions[s] - surface.positions[n]);
  }
  return surface.areas[s] > 0 ? sum.dot(surface.normals[s]) / (2 * surface.areas[s]) : 0.f;
}

}  // namespace

Measure meanCurvature(const Surface& surface, const SkinLadder& ladder, float scale,
                      const Progress& progress) {
  std::vector<float> out(surface.size());
  parallel(surface.size(), [&](size_t s) { out[s] = pointwise(surface, static_cast<uint32_t>(s)); });
  // a needle of a triangle can give any value; no form is finer than the spacing
  const float most = surface.spacing > 0 ? 2 / surface.spacing : 0.f;
  for (float& h : out) h = std::clamp(h, -most, most);
  if (!report(progress, 0.4f)) return cancelledError();
  melt(ladder, out, 0.5f * scale);
  if (!report(progress, 1.f)) return cancelledError();
  return out;
}

namespace {

// In curvatures of the scale, of the sign that is wanted.
Measure formOf(SurfaceMaps& maps, const MapSetting& setting, float sign, const Progress& progress) {
  auto curvature = meanCurvature(maps.surface(), *maps.ladder(), setting.scale, progress);
  if (!curvature) return curvature;
  for (float& v : *curvature) v *= sign * setting.scale;
  return curvature;
}

Measure hollow(SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) {
  return formOf(maps, setting, -1, progress);
}

Measure ridge(SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) {
  return formOf(maps, setting, 1, progress);
}

}  // namespace

constinit const MapKind kCavityMap{"cavity", "Cavity", "a hollow as tight as the scale", true, false, 0.008f,
                                   false,    hollow};
constinit const MapKind kRidgeMap{"ridge", "Ridge", "a ridge as sharp as the scale", true, false, 0.008f,
                                  false,   ridge};

}  // namespace juvenor
