// What lies over the skin in a picture: a map or a mask, numbered squares of a layout, the sculpt's lines.
// All of it is seen as what it is, whatever light falls on the skin: it comes in as bytes and goes out as
// such.
#pragma once

#include "core/render/picture.h"

namespace juvenor {

class OverSkin {
 public:
  /// Outlives it.
  OverSkin(const ShadeInput& input, const ViewSize& size);

  /// Whether it says all of a pixel itself, whatever the skin below.
  bool covers() const { return in_.overlay && in_.overlayLook != OverlayLook::Mask; }
  bool any() const { return in_.overlay || in_.squares || !in_.lines.empty(); }
  /// A pixel with what lies over it; `skin`: its bytes, not needed where this covers.
  uint32_t over(uint32_t skin, uint32_t triangle, const std::array<uint16_t, 2>& weights, int x, int y) const;

 private:
  float lineAt(uint32_t triangle, const std::array<uint16_t, 2>& weights) const;
  uint32_t overlaid(uint32_t skin, uint32_t triangle, const std::array<uint16_t, 2>& weights, int x,
                    int y) const;
  uint32_t squared(uint32_t skin, uint32_t triangle, const std::array<uint16_t, 2>& weights) const;

  const ShadeInput& in_;
  Lens lens_;  // of what is seen: the skin, or its sheet
};

/// A value 0…1 as grey or in false colour, 0xffRRGGBB.
uint32_t toldAs(float value, bool falseColor);

}  // namespace juvenor
