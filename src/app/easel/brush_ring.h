// The brush under the pen: a circle that lies on the skin, points around the pen each dropped onto the
// surface along the normal; within it one for the hardness, and dashed the one a mirror makes.
#pragma once

#include <QPainter>

#include "app/engine/engine.h"

namespace juvenor::app {

/// What a ring is drawn in. Lives no longer than what it refers to.
struct BrushRing {
  const Viewing& viewing;
  RaysPointer rays;  ///< null: nothing is drawn
  const std::set<uint32_t>& hidden;
  double scale;  ///< pixels of the picture to one of the widget

  void draw(QPainter& painter, const Brush& brush, const SurfacePoint& at, bool ghost) const;
};

}  // namespace juvenor::app
