// Where a plane cuts the skin: lines for strokes that go straight over a form, or once around a limb.
#pragma once

#include "core/surface/ray.h"

namespace juvenor {

struct SkinCut {
  std::vector<SurfacePoint> points;  ///< in order along the skin; toViewer is the normal
  bool closed = false;               ///< the last goes on to the first
};

struct CutPlane {
  Vec3 normal = Vec3::UnitX();  ///< unit
  float offset = 0;             ///< of its points along the normal
};

/// The line the plane cuts out of a part (kNone: of any) that passes nearest to a place; no points when it
/// cuts nothing.
SkinCut cutThrough(const Surface& surface, const CutPlane& plane, uint32_t part, const Vec3& near);

/// The stretch of it between the places nearest to two others, the shorter way where it is closed.
SkinCut stretchOf(const SkinCut& cut, const Vec3& from, const Vec3& to);

/// All the way round, starting and ending at the place nearest to another; of an open line all of it.
SkinCut roundFrom(const SkinCut& cut, const Vec3& from);

}  // namespace juvenor
