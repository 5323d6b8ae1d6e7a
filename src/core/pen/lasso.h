// The skin inside an outline drawn over a picture of it: straight through all that lies there, or what one
// sees alone; with an edge that fades along the skin.
#pragma once

#include "core/pen/eye.h"
#include "core/surface/field.h"

namespace juvenor {

struct LassoSetting {
  bool frontOnly = true;  ///< what turns away, or lies behind something, is left out
  float soft = 0;         ///< scene units along the skin over which it fades, half inside and half outside
  uint32_t part = kNone;  ///< of this part alone; kNone: of all that show
};

/// 65535 inside … 0 outside, 0 where nothing is said. `outline`: pixels of the eye's picture; it closes
/// itself, and where it crosses itself even-odd counts (as in SVG). What is cut away before the eye is not
/// inside. The error says that it goes around nothing.
Result<ScalarField> insideLasso(const Eye& eye, std::span<const Vec2> outline, const LassoSetting& setting,
                                const Progress& progress = {});

}  // namespace juvenor
