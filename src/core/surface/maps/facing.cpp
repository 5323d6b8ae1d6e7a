// How far the skin turns toward a direction, from its normals alone.
#include "core/surface/maps/measures.h"

namespace juvenor {

std::vector<float> facing(const Surface& surface, const Vec3& direction) {
  std::vector<float> out(surface.size());
  for (size_t s = 0; s < out.size(); ++s) out[s] = 0.5f * (1 + surface.normals[s].dot(direction));
  return out;
}

}  // namespace juvenor
