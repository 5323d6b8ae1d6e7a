// The slide: a photo between the eye and the sculpt. Its tool moves, scales and turns it, or moves the sculpt
// beneath, and pins places of it to places of the skin; while it shows, every brush paints through it. It
// goes with the eye: what it is kept as is where it hung when it was let go last.
#pragma once

#include <QImage>
#include <QTimer>

#include "app/engine/beside.h"
#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"
#include "core/brush/paints/slide.h"
#include "core/document/edits/edit_slides.h"
#include "core/render/slide_picture.h"

namespace juvenor::app {

class ValueSlider;

class SlideHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit SlideHand(Session& session);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return grip_ != Grip::None; }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override { setShown(false); }
  bool takesView() const override { return shown() && !movesSculpt(); }
  void turnBy(const Vec2& drag) override;
  void scaleBy(float factor, const Vec2& pixel) override;

  /// The picture alone, while other tools are in hand.
  void drawPicture(QPainter& painter, double scale) const;
  /// The eye, or the size of the view, is another.
  void follow(const Viewing& viewing);
  /// Takes a kept slide in hand; null: none.
  void take(const Slide* slide);
  /// The slide in hand as it hangs now, or null.
  const Slide* slide() const { return slide_.picture ? &slide_ : nullptr; }
  bool shown() const { return slide_.picture && shown_; }
  void setShown(bool shown);
  void setMovesSculpt(bool on);
  bool movesSculpt() const;
  /// What is laid of it, by the pen and when it is thrown next.
  const PhotoSplit& split() const { return split_; }
  void setSplit(const PhotoSplit& split);
  /// What strokes that begin now take their values from; null while none shows.
  std::shared_ptr<const SlidePaint> paint() const;
  /// Another light or tone, seen at once and kept with the next step.
  void changeTone(const std::function<void(SlideTone&)>& change);
  /// Keeps it as it hangs, as a step of the work.
  void keep(const QString& step);
  /// What stands beside each pin, until the slide changes; in the order of its pins.
  void setPinWords(const QStringList& words);
  HandControls* controls() override { return controls_; }

 signals:
  void changed();
  void throwWanted();

 private:
  enum class Grip { None, Middle, Corner, Pin };
  struct Wish {
    Slide slide;
    SurfaceMapsPointer maps;
    ViewSize size;
    float strength = 1;
    int step = 1;  ///< pixels of the view a drawn one is wide: more while it is dragged
  };
  void refresh();
  void redraw();
  /// `of`: the number of the slide; `step`: see Wish.
  void drawn(const SlidePicture& picture, uint32_t of, int step);
  Vec2 extent() const;
  Vec2 placeOnView(const Vec2& onPicture) const;
  QPolygonF outline(double scale) const;
  int pinAt(const Vec2& pixel) const;
  std::optional<Vec3> skinAt(const Vec2& pixel) const;
  bool beginPin(const Vec2& pixel);
  void drawPinWords(QPainter& painter, double scale) const;

  Session& session_;
  HandControls* controls_;
  ValueSlider* dim_;
  QPushButton *pinning_, *mirrored_, *movesSculpt_, *show_;
  Slide slide_, kept_;
  PhotoSplit split_;
  ViewSize size_;
  bool shown_ = true, moved_ = false;
  Grip grip_ = Grip::None;
  size_t pin_ = 0;  ///< the one being dragged
  QStringList pinWords_;
  Vec2 held_ = Vec2::Zero();
  QImage image_;
  QPoint imageAt_;       ///< in pixels of the image
  int imageStep_ = 1;    ///< pixels of the view one of them is wide
  QTimer scaled_;        ///< the wheel has come to rest
  Beside<Wish> drawer_;  ///< goes first: it posts here
};

}  // namespace juvenor::app
