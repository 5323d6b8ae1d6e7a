// A cut line: from a press to a release a plane goes through the view, and the brush follows where it cuts
// the skin: between the two places, or all around the limb.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"

namespace juvenor::app {

class CutHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit CutHand(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return from_.has_value(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override { from_.reset(); }
  void breakOff() override { giveUp(); }
  HandControls* controls() override { return controls_; }

 private:
  Session& session_;
  HandControls* controls_;
  QPushButton* around_;
  std::optional<SurfacePoint> from_;
  Viewing viewing_;
  Vec2 start_ = Vec2::Zero(), end_ = Vec2::Zero();
};

}  // namespace juvenor::app
