#include <cmath>

#include "core/document/edits/edits.h"

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
  return out;
}

}  // namespace juvenor
