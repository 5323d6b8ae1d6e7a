// The field of skin tones: blood across, melanin down, at one amount of yellow.
#pragma once

#include <optional>

#include "app/mixer/color_plane.h"
#include "core/color/skin_tone.h"

namespace juvenor::app {

class ToneField : public ColorPlane {
  Q_OBJECT
 public:
  ToneField();
  void show(const SkinTone& tone);
  /// Marks the tone nearest to a colour that is not skin; the field itself stays as it is.
  void showNearest(const SkinTone& tone, const EncodedColor& color);
  const SkinTone& tone() const { return tone_; }

 signals:
  void chosen(const juvenor::SkinTone& tone);

 protected:
  QImage drawn() const override;
  QPointF place() const override;
  void take(const QPointF& place) override;
  QString words() const override;
  void drawMark(QPainter& painter, const QPointF& at) const override;

 private:
  SkinTone tone_;
  std::optional<EncodedColor> beside_;  // the colour in hand when it is no tone of the field
};

}  // namespace juvenor::app
