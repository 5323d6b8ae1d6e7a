// Colours a tip brings take the tone of the skin they are laid on: their differences stay, their rim is that
// of the skin around (surface/harmonic_offset.h).
#pragma once

#include "core/brush/paint.h"
#include "core/surface/field.h"

namespace juvenor {

class AdaptedPaint final : public Paint {
 public:
  /// `skin`: as it looks before the stroke, opaque.
  explicit AdaptedPaint(ColorField skin) : skin_(std::move(skin)) {}
  /// Tips that bring no colours of their own are left alone.
  void bring(const Surface& surface, const Dab& dab, Footprint& footprint) override;

 private:
  ColorField skin_;
};

}  // namespace juvenor
