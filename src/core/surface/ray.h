// A ray, and the place on the surface it may lead to.
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

struct Ray {
  Vec3 origin = Vec3::Zero();
  Vec3 direction = Vec3(0, 0, -1);  ///< unit length
  bool frontsOnly = false;          ///< looks through skin from behind, as from inside of the flesh
};

/// A place on the surface, and the direction from there to the viewer.
struct SurfacePoint {
  Vec3 position = Vec3::Zero();
  Vec3 normal = Vec3::UnitZ();
  Vec3 toViewer = Vec3::UnitZ();
  uint32_t triangle = kNone;
  uint32_t part = 0;
};

}  // namespace juvenor
