// The skin model turned round for millions of colours: which melanin, blood and yellow are nearest to each.
#pragma once

#include <Eigen/Core>
#include <vector>

#include "core/color/skin_tone.h"

namespace juvenor {

/// Made once, in a fraction of a second; any thread may ask.
class ToneSolver {
 public:
  ToneSolver();
  /// The tone nearest in CIELAB, by descent in a table of the model (Gauss and Newton's steps); colours no
  /// skin has get the nearest that one has.
  SkinTone operator()(const EncodedColor& color) const;

 private:
  static constexpr int kMelanin = 25, kBlood = 25, kYellow = 7;
  static constexpr int kStarts = 17;  ///< nodes along each channel at which descents begin
  using LabRow = Eigen::Vector3f;
  LabRow at(const Eigen::Vector3f& tone) const;
  Eigen::Matrix3f slopeAt(const Eigen::Vector3f& tone) const;

  std::vector<LabRow> table_;            ///< melanin outermost
  std::vector<Eigen::Vector3f> starts_;  ///< for colours, red outermost
};
const ToneSolver& toneSolver();

}  // namespace juvenor
