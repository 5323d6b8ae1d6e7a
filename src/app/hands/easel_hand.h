// What a press on the easel does while a tool is in hand that does not paint where the pen goes: zones,
// placed stamps, the stencil, cut lines. Pixels are those of the picture.
#pragma once

#include <QPainter>

#include "app/session/session.h"

namespace juvenor::app {

class HandControls;

class EaselHand {
 public:
  virtual ~EaselHand() = default;
  /// How hard the pen presses, told before a press or a drag; 1 for a mouse.
  virtual void feel(float /*pressure*/) {}
  /// Whether the press was for it; a drag may begin then.
  virtual bool press(const Viewing& viewing, const Vec2& pixel) = 0;
  virtual bool dragging() const = 0;
  virtual void drag(const Viewing& viewing, const Vec2& pixel) = 0;
  virtual void release() = 0;
  /// Escape in mid-drag: it was not meant, and is nothing where that can be; else it ends as ever.
  virtual void breakOff() { release(); }
  /// Its handles over the picture; `scale` picture pixels are one of the widget.
  virtual void draw(QPainter& painter, const Viewing& viewing, double scale) const = 0;
  /// Whether what usually moves the eye moves what it holds: a right drag (pixels), the wheel (how many times
  /// larger, around a pixel).
  virtual bool takesView() const { return false; }
  virtual void turnBy(const Vec2& /*drag*/) {}
  virtual void scaleBy(float /*factor*/, const Vec2& /*pixel*/) {}
  /// Enter, or a double press: it is done.
  virtual void finish() {}
  /// Escape: it was not meant.
  virtual void giveUp() {}
  /// What it shows in the easel's bar while its tool is in hand; null: it shows nothing. The bar owns them.
  virtual HandControls* controls() { return nullptr; }
};

/// A grip as all of them draw it.
void drawGrip(QPainter& painter, const QPointF& at, bool chosen);
/// Where one more may be pulled out.
void drawDot(QPainter& painter, const QPointF& at);
/// Words on a dark plate that begins at a place, upright in its middle.
void drawPlate(QPainter& painter, const QPointF& at, const QString& words);
/// The pixel of the picture at which a place of the scene is seen.
Vec2 pixelOf(const Viewing& viewing, const Vec3& place);
/// A light line with a dark rim, that reads on any skin.
void drawOutline(QPainter& painter, const QPolygonF& line, bool dashed = false);

}  // namespace juvenor::app
