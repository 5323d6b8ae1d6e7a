// A stamp laid in one place: press, drag for size and turn, move it by its middle, then lay it. It is seen on
// the skin all the while, from a copy of the work that becomes a step only when it is laid.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"

namespace juvenor::app {

class StampPlacing : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit StampPlacing(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return grip_ != Grip::None; }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  /// Lays it.
  void finish() override;
  void giveUp() override;
  /// Another stamp in hand, as from a file that was dropped.
  void take(const StampPointer& stamp);
  bool placing() const { return placed_.has_value(); }
  HandControls* controls() override { return controls_; }

 private:
  enum class Grip { None, Middle, Rim };
  struct Placed {
    SurfacePoint at;
    Vec3 along;    // unit tangent: its right side
    float radius;  // scene units
  };
  void refresh();
  void show();
  Session::Edit edit(std::shared_ptr<Flood> flood) const;
  QPolygonF outline(const Viewing& viewing, double scale) const;
  Vec2 rim(const Viewing& viewing) const;

  Session& session_;
  HandControls* controls_;
  QPushButton *adapt_, *lay_, *cancel_;
  std::optional<Placed> placed_;
  std::shared_ptr<const ColorField> skin_;  ///< as it looked before
  Grip grip_ = Grip::None;
  bool fresh_ = false, laying_ = false;
  Background work_;
  std::shared_ptr<Flood> flood_ = std::make_shared<Flood>();  ///< of previews; it has room for every sample
  bool again_ = false;                                        ///< it moved while a preview was worked out
  uint64_t turn_ = 0;  ///< tells previews of this placing from older ones
};

}  // namespace juvenor::app
