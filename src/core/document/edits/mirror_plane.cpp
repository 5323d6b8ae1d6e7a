#include <cmath>

#include "core/document/edits/edits.h"
#include "core/document/edits/seated_zones.h"

namespace juvenor {

Result<Document> withMirrorPlane(const Document& document, const MirrorPlane& plane) {
  const float length = plane.normal.norm();
  if (!std::isfinite(length) || !(std::abs(length - 1) < 1e-3f) || !std::isfinite(plane.offset))
    return Error{"a mirror plane needs a normal one long, and a finite offset"};
  if (std::abs(plane.offset) > 10 * document.surface->bounds.diagonal() +
                                   std::abs(plane.normal.dot(document.surface->bounds.center())))
    return Error{"the mirror plane lies far from the figure"};
  Document out = document;
  out.mirror = plane;
  seatZones(out);
  return out;
}

Result<Document> withRestPose(const Document& document, std::vector<Vec3> vertices,
                              const Progress& progress) {
  auto pose = restPose(*importedSculpt(document), document.surface, document.placement,
                       std::make_shared<const std::vector<Vec3>>(std::move(vertices)), progress);
  if (!pose) return pose.error();
  Document out = document;
  out.rest = std::move(*pose);
  seatZones(out);
  return out;
}

Document withoutRestPose(const Document& document) {
  Document out = document;
  out.rest = {};
  seatZones(out);
  return out;
}

Outcome restAgain(Document& document, const Progress& progress) {
  if (!document.rest.any()) return Done{};
  auto pose = restPose(*importedSculpt(document), document.surface, document.placement,
                       document.rest.vertices, progress);
  if (!pose) return pose.error();
  document.rest = std::move(*pose);
  return Done{};
}

}  // namespace juvenor
