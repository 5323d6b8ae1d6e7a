// How pins move a picture: a map of the plane that takes the place of each pin in the view to its place on
// the picture. Without pins it is what it was told; one moves it, two move, turn and scale it, three shear
// it, more bend it smoothly as a thin plate does (Bookstein 1989), the affine part of which is exact: pins
// that ask for an affine map get one.
#pragma once

#include <span>
#include <vector>

#include "core/vec.h"

namespace juvenor {

/// x ↦ linear x + offset.
struct Affine2 {
  Eigen::Matrix2f linear = Eigen::Matrix2f::Identity();
  Vec2 offset = Vec2::Zero();

  Vec2 operator()(const Vec2& x) const { return linear * x + offset; }
};

struct PinnedPair {
  Vec2 from = Vec2::Zero(), to = Vec2::Zero();
};

class PinWarp {
 public:
  /// `unpinned` is how it lies without pins; what pins leave open is taken from there. Pins on one place
  /// count once, the first of them.
  PinWarp(std::span<const PinnedPair> pins, const Affine2& unpinned);

  Vec2 operator()(const Vec2& x) const;
  /// Its derivative, as a matrix.
  Eigen::Matrix2f slope(const Vec2& x) const;
  /// The part without bending.
  const Affine2& affine() const { return affine_; }
  bool bends() const { return !knots_.empty(); }

 private:
  struct Knot {
    Vec2 at, pull;
  };
  void bend(std::span<const PinnedPair> pins);

  Affine2 affine_;
  std::vector<Knot> knots_;
};

}  // namespace juvenor
