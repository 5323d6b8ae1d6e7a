// A hand that keeps to the horizontal, the vertical or 45° of the view while a key is held.
#pragma once

#include <cmath>
#include <numbers>
#include <optional>

#include "core/vec.h"

namespace juvenor::app {

class AxisLock {
 public:
  /// Where a pen at this pixel counts as being. The direction is taken from the first few pixels after the
  /// key went down and kept until it is let go.
  Vec2 held(const Vec2& pixel, bool on) {
    if (!on) {
      from_ = pixel;
      way_.reset();
      return pixel;
    }
    if (!from_) from_ = pixel;
    const Vec2 moved = pixel - *from_;
    if (!way_) {
      if (moved.norm() < kDecided) return *from_;
      constexpr float kStep = std::numbers::pi_v<float> / 4;
      const float turn = kStep * std::round(std::atan2(moved.y(), moved.x()) / kStep);
      way_ = Vec2(std::cos(turn), std::sin(turn));
    }
    return *from_ + *way_ * way_->dot(moved);
  }
  void begin(const Vec2& pixel) {
    from_ = pixel;
    way_.reset();
  }

 private:
  static constexpr float kDecided = 6;  // pixels
  std::optional<Vec2> from_, way_;
};

}  // namespace juvenor::app
