// The stencil: a picture held between the eye and the sculpt. Its tool moves, scales and turns it; while it
// shows, every brush paints through it.
#pragma once

#include <QPixmap>

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"

namespace juvenor::app {

class ValueSlider;

class StencilHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit StencilHand(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return grip_ != Grip::None; }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override { grip_ = Grip::None; }
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override { setShown(false); }

  /// The picture alone, while other tools are in hand.
  void drawPicture(QPainter& painter, double scale) const;
  /// Holds a picture in the middle of the view.
  void take(const StampPointer& picture);
  /// How large the view is.
  void setViewSize(const ViewSize& size) { size_ = size; }
  bool shown() const { return picture_ && shown_; }
  void setShown(bool shown);
  /// What strokes that begin now go through; null while none shows.
  std::shared_ptr<const Stencil> stencil(const Viewing& viewing) const;
  HandControls* controls() override { return controls_; }

 signals:
  void changed();

 private:
  enum class Grip { None, Middle, Corner };
  void refresh();
  void makeImage();
  Vec2 corner() const;

  Session& session_;
  HandControls* controls_;
  ValueSlider* dim_;
  QPushButton *colors_, *inverted_, *show_;
  StampPointer picture_;
  QImage image_;
  /// The image as it lies on the easel, made once for a size and a turn; where it is held does not matter.
  struct Laid {
    qint64 image = 0;
    double factor = 0;
    float turn = 0;
    QPixmap pixels;
  };
  mutable Laid laid_;
  ViewSize size_;
  bool shown_ = true;
  Vec2 middle_ = Vec2::Zero();  ///< pixels of the picture
  float half_ = 100;            ///< pixels of half its longer side
  float turn_ = 0;              ///< radians, upright at 0, to the left
  Grip grip_ = Grip::None;
  Vec2 held_ = Vec2::Zero();  ///< from the middle to where it was gripped
};

}  // namespace juvenor::app
