#include "core/surface/distance/tangent_frames.h"

#include "core/parallel.h"

namespace juvenor {

TangentFrames::TangentFrames(std::vector<Vec3> unitNormals)
    : normals(std::move(unitNormals)), axes(normals.size()) {
  parallel(axes.size(), [&](size_t i) { axes[i] = normals[i].unitOrthogonal(); });
}

}  // namespace juvenor
