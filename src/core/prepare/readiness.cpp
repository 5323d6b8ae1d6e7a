#include "core/prepare/readiness.h"

#include <unordered_set>

#include "core/sculpt/polygon_groups.h"

namespace juvenor {
namespace {

// Less of a figure than this that finds its mirror image is no figure one mirrors strokes on.
constexpr float kMirrored = 0.75f;
constexpr float kLeastTall = 20, kMostTall = 20'000;  // millimetres

// Pieces within each part: a shell that lies in two parts counts in both.
size_t shellsIn(const Document& document) {
  const Sculpt& sculpt = *document.sculpt;
  const auto shells = shellsOfPolygons(sculpt, document.surface->sampleOfVertex);
  std::unordered_set<uint64_t> seen;
  for (size_t p = 0; p < shells.size(); ++p) seen.insert(uint64_t{sculpt.polygonPart[p]} << 32 | shells[p]);
  return seen.size();
}

bool samePlane(const MirrorPlane& a, const MirrorPlane& b, float apart) {
  return a.normal.dot(b.normal) > 0.9998f && std::abs(a.offset - b.offset) < apart;
}

}  // namespace

double Readiness::pointsFor(float thing) const {
  const double finer = spacing / spacingFor(thing);
  return finer > 1 ? static_cast<double>(points) * finer * finer : static_cast<double>(points);
}

Result<Readiness> readinessOf(const Document& document, size_t uvSet, const Progress& progress) {
  const Surface& surface = *document.surface;
  const float millimetres = document.placement.millimetres;
  Readiness out;
  out.tall = (surface.bounds.high.y() - surface.bounds.low.y()) * millimetres;
  out.likelySize = out.tall >= kLeastTall && out.tall <= kMostTall;
  out.points = surface.size();
  out.spacing = surface.spacing * millimetres;
  out.carries = carriedBy(out.points);
  out.parts = document.sculpt->parts.size();
  out.shells = shellsIn(document);
  if (!report(progress, 0.2f)) return cancelledError();
  if (uvSet < document.sculpt->uvSets.size()) {
    auto layout =
        uvLayout(*document.sculpt, uvSet, [&](float f) { return report(progress, 0.2f + 0.5f * f); });
    if (!layout) return layout.error();
    float filled = 0, doubled = 0;
    for (const UvTile& t : layout->tiles) {
      filled += t.filled;
      doubled += t.doubled;
    }
    out.doubled = filled > 0 ? doubled / filled : 0;
    out.layout = std::make_shared<const UvLayout>(std::move(*layout));
  }
  const auto plane = mirrorPlaneOf(document, [&](float f) { return report(progress, 0.7f + 0.3f * f); });
  if (plane) {
    out.plane = *plane;
    out.mirrors = plane->found >= kMirrored;
    out.planeIsOurs = out.mirrors && samePlane(document.mirror, plane->plane, 0.5f * surface.spacing);
  } else if (isCancelled(plane.error())) {
    return plane.error();
  }
  return report(progress, 1) ? Result<Readiness>(std::move(out)) : cancelledError();
}

}  // namespace juvenor
