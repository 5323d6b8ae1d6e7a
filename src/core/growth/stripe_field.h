// Stripes of even distance over the skin: a phase at each place that runs through a whole turn within one
// period along a direction, and forks where the skin makes it (stripe patterns on surfaces: Knöppel, Crane,
// Pinkall, Schröder 2015, here by unit phases smoothed from level to level as in Jakob, Tarini, Panozzo,
// Sorkine-Hornung 2015). Their number follows neither points nor UVs; stripes never cross a gap.
#pragma once

#include "core/growth/direction_field.h"
#include "core/progress.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {

struct StripeField {
  std::vector<uint16_t> phases;  ///< one a sample: 65,536 is a whole turn
};

/// `directions` (unit) and `periods` (scene units): one a sample; `finest` is the least period. The only
/// error is a cancel.
Result<StripeField> stripeField(const Surface& surface, const std::shared_ptr<const SkinLadder>& ladder,
                                std::span<const Vec3> directions, std::span<const float> periods,
                                float finest, const Progress& progress = {});

}  // namespace juvenor
