// The same samples and triangles with other places: a surface in another pose.
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

/// `positions`: of each sample. Normals, areas, boxes and spacing are measured anew; the order stays.
std::shared_ptr<const Surface> elsewhere(const Surface& surface, std::vector<Vec3> positions);

}  // namespace juvenor
