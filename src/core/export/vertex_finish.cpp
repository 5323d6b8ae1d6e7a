#include "core/export/vertex_finish.h"

namespace juvenor {

VertexFinish finishOf(const Document& document, const ColorField& composite) {
  VertexFinish out;
  const Surface& surface = *document.surface;
  const Eigen::Matrix3f back = turnOf(document.placement).transpose();
  for (const uint32_t s : surface.sampleOfVertex) {
    out.normals.push_back(back * surface.normals[s]);
    out.colors.push_back(colorAt(composite, s));
  }
  return out;
}

}  // namespace juvenor
