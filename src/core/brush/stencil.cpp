#include "core/brush/stencil.h"

#include <cmath>

namespace juvenor {

void holdThrough(const Stencil& stencil, const Surface& surface, const Dab& dab, Footprint& footprint) {
  if (!stencil.picture) return;
  const bool colors = stencil.ownColors && stencil.picture->hasColor();
  if (colors) footprint.colors.resize(footprint.samples.size());
  const Eigen::Matrix<float, 3, 4>& m = stencil.toPicture;
  for (size_t i = 0; i < footprint.samples.size(); ++i) {
    const Vec3 place = dab.mirrors.place(surface.positions[footprint.samples[i]], dab.across);
    const Vec3 at = m.leftCols<3>() * place + m.col(3);
    StampValue through;
    if (at.z() > 0) {
      const float width = m.row(0).head<3>().norm() / at.z() * std::sqrt(surface.areas[footprint.samples[i]]);
      through = stencil.picture->at({at.x() / at.z(), at.y() / at.z()}, width);
    }
    footprint.weights[i] *= stencil.inverted ? 1 - through.shape : through.shape;
    if (colors) footprint.colors[i] = through.color;
  }
}

}  // namespace juvenor
