// Another pose of the sculpt, in which the figure is symmetric: strokes find the other side there.
#pragma once

#include <memory>

#include "core/sculpt/sculpt.h"
#include "core/surface/build/placement.h"
#include "core/surface/mirror/rest_skin.h"

namespace juvenor {

struct RestPose {
  uint64_t fingerprint = 0;  ///< of the vertices, by which a file finds them; 0: there is none
  /// Where each vertex of the sculpt lies at rest, on the sculpt's own axes; null while a file is still to
  /// give them.
  std::shared_ptr<const std::vector<Vec3>> vertices;
  std::shared_ptr<const RestSkin> skin;

  bool any() const { return fingerprint != 0; }
  bool operator==(const RestPose& o) const { return fingerprint == o.fingerprint; }
};

/// With its fingerprint and skin. `imported`: the sculpt as its file gave it; `surface`: that of the
/// document, with what points were added. The error says which vertex is no place.
Result<RestPose> restPose(const Sculpt& imported, std::shared_ptr<const Surface> surface,
                          const Placement& placement, std::shared_ptr<const std::vector<Vec3>> vertices,
                          const Progress& progress = {});

}  // namespace juvenor
