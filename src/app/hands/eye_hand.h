// Eyes on the easel: a press on a ball sets one, or makes it look there, and that of the other side as a
// mirror would show it; grips turn the look, of all eyes the same way, stretch iris and pupil, and pull the
// outline of a drawn pupil.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"
#include "core/layers/sources/eyes.h"

class QLabel;

namespace juvenor::app {

class EyeHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit EyeHand(Session& session);

  /// The eyes of the active layer, or null when it has none.
  const Eyes* eyes() const;
  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return held_.has_value(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void breakOff() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  HandControls* controls() override { return controls_; }

 private:
  enum class Grip { Look, Iris, Pupil, Corner, Side };
  struct Handle {
    size_t ball;
    Grip grip;
    Vec2 pixel;
    size_t corner = 0;  ///< of a drawn pupil's outline; of a side the one before it
  };
  void pullOutline(const Vec3& place);
  void joinCorners();
  const Eyes* shown() const;
  std::vector<Handle> handles(const Viewing& viewing) const;
  void setAt(const Viewing& viewing, const Vec2& pixel);
  void refresh();

  Session& session_;
  HandControls* controls_;
  QPushButton *both_, *remove_;
  QLabel* says_;
  std::optional<Handle> held_;
  size_t chosen_ = 0;
  bool moved_ = false;
  Eyes before_, dragged_;
};

}  // namespace juvenor::app
