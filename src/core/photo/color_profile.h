// A colour profile (ICC) as pictures carry it, through Little CMS.
#pragma once

#include <memory>
#include <span>
#include <string_view>

#include "core/photo/picture_data.h"

namespace juvenor {

class ColorProfile {
 public:
  /// sRGB: nothing is to be changed.
  ColorProfile() = default;
  /// From the bytes of a profile, which may be anything.
  ColorProfile(std::string_view bytes, bool grey);

  /// Whether the bytes are no profile for such a picture.
  bool damaged() const { return damaged_; }
  /// From the profile's colours to sRGB by relative colorimetry; alpha stays. Safe from any thread.
  void toSrgb(std::span<Straight16> pixels) const;

 private:
  std::shared_ptr<void> transform_;
  bool grey_ = false, damaged_ = false;
};

}  // namespace juvenor
