// The one bar at the foot of the easel: it shows the controls of the hand whose tool is in hand.
#pragma once

#include <QFrame>

class QHBoxLayout;

namespace juvenor::app {

class HandControls;

class HandBar : public QFrame {
  Q_OBJECT
 public:
  explicit HandBar(QWidget* easel);
  /// Takes controls over; they are hidden until they are shown.
  void add(HandControls* controls);
  /// Shows these and no others; null: the bar is gone.
  void setControls(HandControls* controls);
  /// Lies at the foot of the easel, in its middle.
  void layOut();

 protected:
  /// Its controls became wider or narrower.
  bool event(QEvent* event) override;

 private:
  QHBoxLayout* row_;
  HandControls* shown_ = nullptr;
};

}  // namespace juvenor::app
