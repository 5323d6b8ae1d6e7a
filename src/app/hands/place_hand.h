// A place of the skin that a panel asks for: a press there, or a drag over it, gives it. For a lamp, where
// its highlight is to be; for a lens, what is to be sharp. In hand from when it is asked for until it is
// done, whatever the tool.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"

class QLabel;

namespace juvenor::app {

class PlaceHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit PlaceHand(Session& session);

  using Placed = std::function<void(const Viewing& viewing, const SurfacePoint& place)>;
  /// Takes it in hand; `says`: what a press does, `missed`: what is said of one beside the skin. `mark`:
  /// where it was placed before is shown; none where what comes of it shows itself.
  void begin(const QString& says, const QString& missed, Placed placed,
             std::function<std::optional<Vec3>()> mark = {});
  bool active() const { return placed_ != nullptr; }

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return dragging_; }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override { dragging_ = false; }
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void finish() override;
  void giveUp() override { finish(); }
  HandControls* controls() override { return controls_; }

 signals:
  void done();

 private:
  bool place(const Viewing& viewing, const Vec2& pixel);

  Session& session_;
  HandControls* controls_;
  QLabel* says_;
  QString missed_;
  Placed placed_;
  std::function<std::optional<Vec3>()> mark_;
  bool dragging_ = false;
};

}  // namespace juvenor::app
