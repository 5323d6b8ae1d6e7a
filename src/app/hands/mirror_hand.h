// The figure's own mirror plane: shown, found by its form, dragged aside, leaned and turned.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"
#include "core/surface/mirror/mirrors.h"

class QDoubleSpinBox;

namespace juvenor::app {

class MirrorHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit MirrorHand(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return dragged_.has_value(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override { dragged_.reset(); }
  void breakOff() override { giveUp(); }
  HandControls* controls() override { return controls_; }

 private:
  MirrorPlane plane() const;
  void refresh();
  void typed();
  void keep(const MirrorPlane& plane);
  QDoubleSpinBox* addNumber(const char* name, const QString& label, const QString& unit, double most,
                            const QString& tip);

  Session& session_;
  HandControls* controls_;
  QDoubleSpinBox *aside_, *lean_, *turn_;
  Vec2 pressed_ = Vec2::Zero();
  std::optional<MirrorPlane> dragged_;  ///< as it is while it is dragged
};

}  // namespace juvenor::app
