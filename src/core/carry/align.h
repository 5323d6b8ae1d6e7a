// How a changed sculpt lies to the one before: as it is, where it lies there already; else its unit, its axes
// and the rigid motion that brings it there are sought.
#pragma once

#include "core/carry/fit_rigid.h"
#include "core/document/document.h"

namespace juvenor {

struct Aligned {
  Placement placement;  ///< the new sculpt's: its axes in quarter turns, its unit
  Similarity motion;    ///< from its scene, so placed, to that of the old one
  float rest = 0;       ///< scene units of the old one: the mean distance that is left
  float found = 0;      ///< 0…1: how much of it lies on the old one
  bool lay = false;     ///< it lay there already
};

/// Which unit scene units are, as one of the old ones', when they are so many times as long: 1, 10, 25.4 …
float unitNear(float scale);

/// The way of standing, in quarter turns, that is nearest to a turn of a sculpt's own axes; in millimetres.
Placement placementNear(const Eigen::Matrix3f& turn);

/// `fresh`: the new surface on its sculpt's own axes. The error says what was found when it is another shape
/// altogether.
Result<Aligned> aligned(const Document& old, const Rays& oldRays, std::shared_ptr<const Surface> fresh,
                        const Progress& progress = {});

}  // namespace juvenor
