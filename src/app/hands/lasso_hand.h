// Goes around skin: what lies inside is hidden by the active layer's mask, or guarded, or let go again, or
// becomes a part of its own.
#pragma once

#include <QPushButton>

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"

class QDoubleSpinBox;

namespace juvenor::app {

class LassoHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit LassoHand(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return !outline_.empty(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override { outline_.clear(); }
  void breakOff() override { giveUp(); }
  HandControls* controls() override { return controls_; }
  /// Whether it works on the guard, else on the active layer's mask.
  bool guards() const { return guards_->isChecked(); }

 signals:
  /// It works on something else now.
  void changed();

 private:
  Session& session_;
  HandControls* controls_;
  QPushButton *guards_, *part_, *takesAway_, *through_;
  QDoubleSpinBox* soft_;
  Viewing viewing_;
  std::vector<Vec2> outline_;
};

}  // namespace juvenor::app
