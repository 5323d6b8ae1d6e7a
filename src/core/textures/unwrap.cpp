#include "core/textures/unwrap.h"

#include <cmath>
#include <limits>

#include "core/document/edits/edits.h"
#include "core/sculpt/each_triangle.h"
#include "core/sculpt/uv_places.h"
#include "core/surface/maps/measures.h"
#include "core/textures/attach_charts.h"
#include "core/textures/coarse_pieces.h"
#include "core/textures/cut_charts.h"
#include "core/textures/pack_islands.h"
#include "core/textures/uv_stretch.h"

namespace juvenor {
namespace {

// The sculpt's triangles over points that coincident vertices of a part share, with the sculpt's numbers.
struct WeldedSculpt {
  ChartMesh mesh;
  std::vector<float> hidden;  ///< of its points, or empty
  std::vector<uint32_t> sculptTriangle;
};

Result<WeldedSculpt> weld(const Sculpt& sculpt, std::span<const float> hidden, const Progress& progress) {
  WeldedSculpt out;
  const auto surface = buildSurface(sculpt, progress, &out.sculptTriangle);
  if (!surface) return surface.error();
  if (!hidden.empty()) {
    out.hidden.assign((*surface)->size(), 0);
    for (size_t v = 0; v < hidden.size(); ++v) out.hidden[(*surface)->sampleOfVertex[v]] = hidden[v];
  }
  std::vector<uint32_t> polygonOf(triangleCount(sculpt)), polygons;
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle&) { polygonOf[t] = static_cast<uint32_t>(p); });
  for (const uint32_t t : out.sculptTriangle) polygons.push_back(polygonOf[t]);
  out.mesh = chartMesh((*surface)->positions, (*surface)->triangles, std::move(polygons), out.hidden);
  return out;
}

// A UV set from the places of a sculpt's triangles, which are not finite where one was left out. Vertices
// that have one place in several polygons keep one.
UvSet setOf(const Sculpt& sculpt, const std::vector<std::array<Vec2, 3>>& places, const std::string& name) {
  std::vector<Vec2> ofCorner(sculpt.corners.size(), Vec2::Constant(std::numeric_limits<float>::quiet_NaN()));
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle& at) {
    for (size_t k = 0; k < 3; ++k)
      if (places[t][k].allFinite()) ofCorner[sculpt.polygonStart[p] + at[k]] = places[t][k];
  });
  UvSet out{name, {}, std::vector<uint32_t>(sculpt.corners.size(), kNone)};
  UvPlaces kept(out, sculpt.vertices.size());
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    // a corner of nothing but triangles without an area lies where the nearest of its polygon does
    const auto nearest = [&](uint32_t corner) {
      Vec2 best = Vec2(0, 0);
      float least = std::numeric_limits<float>::max();
      for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c) {
        const float away =
            (sculpt.vertices[sculpt.corners[c]] - sculpt.vertices[sculpt.corners[corner]]).norm();
        if (!ofCorner[c].allFinite() || away >= least) continue;
        least = away;
        best = ofCorner[c];
      }
      return best;
    };
    for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c)
      out.corner[c] = kept.of(sculpt.corners[c], ofCorner[c].allFinite() ? ofCorner[c] : nearest(c));
  }
  return out;
}

// Where all triangles of a mesh lie in the tiles.
struct Laid {
  std::vector<std::array<Vec2, 3>> corners;
  size_t islands = 0;
};

Result<Laid> laidFlat(const WeldedSculpt& welded, const UnwrapSetting& setting, const Progress& progress) {
  const ChartMesh& mesh = welded.mesh;
  auto pieces = coarsePieces(mesh, welded.hidden, setting.coarse, setting.mostStretch,
                             [&](float f) { return report(progress, 0.05f + 0.35f * f); });
  if (!pieces) return pieces.error();
  auto charts = cutFlat(mesh, std::move(*pieces), setting.mostStretch,
                        [&](float f) { return report(progress, 0.4f + 0.3f * f); });
  if (!charts) return charts.error();
  constexpr size_t kSplinter = 100;
  charts = withSplintersAttached(mesh, std::move(*charts), kSplinter,
                                 [&](float f) { return report(progress, 0.7f + 0.1f * f); });
  if (!charts) return charts.error();
  const auto packed = packIslands(*charts, {setting.tiles, setting.padding},
                                  [&](float f) { return report(progress, 0.8f + 0.2f * f); });
  if (!packed) return packed.error();
  const Vec2 none = Vec2::Constant(std::numeric_limits<float>::quiet_NaN());
  Laid out{std::vector<std::array<Vec2, 3>>(mesh.triangles.size(), {none, none, none}), charts->size()};
  for (size_t c = 0; c < charts->size(); ++c)
    for (size_t i = 0; i < (*charts)[c].triangles.size(); ++i)
      out.corners[(*charts)[c].triangles[i]] = packed->charts[c].corners[i];
  return out;
}

}  // namespace

Result<Unwrapped> unwrapped(const Sculpt& sculpt, const UnwrapSetting& setting, std::span<const float> hidden,
                            const Progress& progress) {
  const auto welded = weld(sculpt, hidden, [&](float f) { return report(progress, 0.05f * f); });
  if (!welded) return welded.error();
  if (welded->mesh.triangles.empty()) return Error{"has no triangle with an area", sculpt.name};
  const auto laid = laidFlat(*welded, setting, progress);
  if (!laid) return laid.error();
  Unwrapped out;
  out.islands = laid->islands;
  const Vec2 none = Vec2::Constant(std::numeric_limits<float>::quiet_NaN());
  std::vector<std::array<Vec2, 3>> places(triangleCount(sculpt), {none, none, none});
  for (size_t t = 0; t < laid->corners.size(); ++t) places[welded->sculptTriangle[t]] = laid->corners[t];
  const LayoutStretch stretch = stretchOf(welded->mesh.positions, welded->mesh.triangles, laid->corners);
  out.stretch = stretch.mean;
  out.filled = static_cast<float>(stretch.area / setting.tiles);
  out.set = setOf(sculpt, places, setting.name);
  return out;
}

Result<std::vector<float>> hiddenAtVertices(const Sculpt& sculpt, const Progress& progress) {
  const auto surface = buildSurface(sculpt, [&](float f) { return report(progress, 0.3f * f); });
  if (!surface) return surface.error();
  const auto rays = buildRays(*surface, Rays::Quality::Quick);
  if (!rays) return rays.error();
  // only as far as a hand's breadth on a head: what lies below the chin, not below the sky
  constexpr int kFewRays = 16;
  const auto closed = occlusion(**rays, 0.3f * (*surface)->bounds.diagonal(), kFewRays,
                                [&](float f) { return report(progress, 0.3f + 0.7f * f); });
  if (!closed) return closed.error();
  std::vector<float> out;
  out.reserve(sculpt.vertices.size());
  for (const uint32_t s : (*surface)->sampleOfVertex) out.push_back((*closed)[s]);
  return out;
}

Result<Document> withUnwrapped(const Document& document, const UnwrapSetting& setting,
                               const Progress& progress, Unwrapped* made) {
  const auto hidden = hiddenAtVertices(*document.sculpt, [&](float f) { return report(progress, 0.2f * f); });
  if (!hidden) return hidden.error();
  auto done = unwrapped(*document.sculpt, setting, *hidden,
                        [&](float f) { return report(progress, 0.2f + 0.8f * f); });
  if (!done) return done.error();
  if (made) *made = *done;
  return withUvs(document, std::move(done->set));
}

}  // namespace juvenor
