// What is cut away before the eye: how deep the plane lies, and an end to it. It shows in a corner of the
// easel while something is.
#pragma once

#include <QFrame>

#include "core/view/camera.h"

namespace juvenor::app {

class ValueSlider;

class CutBar : public QFrame {
  Q_OBJECT
 public:
  explicit CutBar(QWidget* easel);
  /// Shows what a camera cuts away of a sculpt of that depth, or hides; `millimetres` to a scene unit.
  void follow(const Camera& camera, const DepthRange& range, float millimetres);
  void layOut();

 signals:
  /// The plane was moved: scene units from the foremost place.
  void moved(float depth);
  void wholeWanted();

 private:
  ValueSlider* depth_;
  float millimetres_ = 1;
};

}  // namespace juvenor::app
