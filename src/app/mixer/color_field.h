// Free colours: lightness by chroma at one hue (Oklch) with the edge of what a screen can show, and the strip
// of hues.
#pragma once

#include "app/mixer/color_plane.h"
#include "core/color/oklab.h"

namespace juvenor::app {

/// The field of chroma (across) and lightness (up) at one hue, or the strip of hues.
class ColorField2D : public ColorPlane {
  Q_OBJECT
 public:
  enum class Kind { ChromaLightness, Hue };
  explicit ColorField2D(Kind kind);
  void show(const Oklch& color);

 signals:
  void chosen(const juvenor::Oklch& color);

 protected:
  QImage drawn() const override;
  QPointF place() const override;
  void take(const QPointF& place) override;
  QString words() const override;
  QPointF step() const override;

 private:
  Oklch at(const QPointF& place) const;

  Kind kind_;
  Oklch color_;
};

}  // namespace juvenor::app
