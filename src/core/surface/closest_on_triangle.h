// The place of a triangle that lies nearest to a point.
#pragma once

#include "core/vec.h"

namespace juvenor {

/// After Ericson, Real-Time Collision Detection 2005, section 5.1.5. A corner where the triangle has no area.
Vec3 closestOnTriangle(const Vec3& point, const Vec3& a, const Vec3& b, const Vec3& c);

/// Weights of the second and third corner of a place that lies on a triangle, 0…1 each and together; none
/// where it has no area.
Vec2 weightsOnTriangle(const Vec3& place, const Vec3& a, const Vec3& b, const Vec3& c);

}  // namespace juvenor
