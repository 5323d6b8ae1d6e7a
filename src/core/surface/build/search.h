// Which samples lie near a point: two levels of boxes over the space-filling order, so that the cost follows
// what is found and not the size of the sculpt.
#pragma once

#include <optional>
#include <vector>

#include "core/surface/surface.h"

namespace juvenor {

/// The nearest sample within `reach` of `point`, or nothing. With `part` ≠ kNone only that part counts.
std::optional<uint32_t> nearestSample(const Surface& surface, const Vec3& point, float reach,
                                      uint32_t part = kNone);

/// All samples within `radius` of `center`, in ascending order, appended to `out`.
void samplesWithin(const Surface& surface, const Vec3& center, float radius, std::vector<uint32_t>& out);

}  // namespace juvenor
