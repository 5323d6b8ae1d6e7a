// How space has to bend so that some places come to lie on others: the one bend that does it with the least
// energy (thin plates, Bookstein 1989; in space their kernel is the distance itself), over the turn, size and
// shift that fit best. Six to twelve pins on a head leave whole regions between them without any word; a thin
// plate fills these smoothly and needs nothing else, where a deformation graph (Sumner 2007) would need a
// weight for every one of its nodes. What is affine it does exactly.
#pragma once

#include "core/carry/fit_rigid.h"

namespace juvenor {

/// A pair of places of the same meaning, each in the scene of its own sculpt.
struct CarryPin {
  std::string name;  ///< what one calls it, perhaps a landmark's key; may be empty
  Vec3 old = Vec3::Zero(), fresh = Vec3::Zero();

  bool operator==(const CarryPin&) const = default;
};
inline constexpr size_t kMostCarryPins = 200;

/// From the scene of the new sculpt to that of the old one, and back.
class Bend {
 public:
  Bend() = default;
  explicit Bend(Similarity motion) : motion_(motion) {}

  Vec3 toOld(const Vec3& place) const;
  /// Where the skin looks after it: the normal of what lay across `normal`.
  Vec3 normalToOld(const Vec3& place, const Vec3& normal) const;
  /// Back, to a ten-thousandth of the pins' spread; where space folds the nearest that was found.
  Vec3 toNew(const Vec3& place) const;
  /// The turn and the size that fit best.
  const Similarity& motion() const { return motion_; }
  bool isIdentity() const { return centers_.empty() && motion_.isIdentity(); }

 private:
  friend Result<Bend> bendBetween(std::span<const CarryPin> pins, const Similarity& start);

  Similarity motion_;
  std::vector<Vec3> centers_;                                               ///< after the motion
  std::vector<Vec3> pull_;                                                  ///< of each
  Eigen::Matrix<float, 3, 4> affine_ = Eigen::Matrix<float, 3, 4>::Zero();  ///< beside the motion
};

/// The bend that takes each pin's new place to its old one. One or two pins shift what `start` says; three
/// and more say turn and size themselves. The error says which pins contradict each other.
Result<Bend> bendBetween(std::span<const CarryPin> pins, const Similarity& start = {});

}  // namespace juvenor
