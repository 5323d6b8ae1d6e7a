// Takes grafts off the skin: a rectangle dragged from its middle, a strip along a stroke, or what a lasso
// goes around.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"
#include "core/graft/take_graft.h"

class QButtonGroup;
class QComboBox;

namespace juvenor::app {

class ValueSlider;

class GraftHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit GraftHand(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return !way_.empty(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override { way_.clear(); }
  void breakOff() override { giveUp(); }
  /// Whether it takes strips, which are as wide as the brush.
  bool strips() const { return shape() == Shape::Strip; }
  HandControls* controls() override { return controls_; }

 signals:
  /// One was taken and lies in the box.
  void taken(const QString& file, const juvenor::Graft& graft);

 private:
  enum class Shape { Rectangle, Strip, Lasso };
  Shape shape() const;
  std::optional<PatchShape> patch() const;
  GraftTake take() const;
  void listCheckpoints();

  Session& session_;
  HandControls* controls_;
  QButtonGroup* shapes_;
  QComboBox *pixels_, *until_;
  ValueSlider* cut_;
  QPushButton *form_, *difference_;
  std::vector<std::pair<uint32_t, std::string>> listed_;  ///< ids and names of checkpoints
  Viewing viewing_;
  std::vector<SurfacePoint> way_;  ///< where the pen was on the skin, the first place first
  std::vector<Vec2> seen_;         ///< the same as pixels
  Background work_;
};

}  // namespace juvenor::app
