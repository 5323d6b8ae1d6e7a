// Two substances that react and spread along the skin until they stand as spots, stripes or nets (Turing
// 1952; on surfaces Turk 1991; the model of Gray and Scott as Pearson 1993 mapped it). Worked out on the
// level of the ladder that resolves the pattern; nothing spreads over a gap.
#pragma once

#include "core/progress.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {

struct ReactionSetting {
  float feed = 0.035f, kill = 0.065f;  ///< F and k
  /// From one spot to the next with these, in units of the length the model is written in (Du = 0.16).
  float wavelength = 12;
  float stretch = 1;   ///< how much longer spots are along the direction than across
  int steps = 2500;    ///< of time 1
  bool reacts = true;  ///< false: the substances only spread
  uint32_t seed = 1;
};

/// How much of the second substance stands at each node, 0…1; the first is its rest.
struct Substances {
  std::vector<float> u, v;
};

/// Nodes, widths of the pattern and directions over them, for `sizes` (scene units, one a sample: from one
/// spot to the next).
struct ReactionGround {
  SkinLevel level;
  std::vector<float> sizes;  ///< one a node
  std::vector<Vec3> along;   ///< unit, or zero
};
ReactionGround reactionGround(const Surface& surface, const std::shared_ptr<const SkinLadder>& ladder,
                              std::span<const Vec3> directions, std::span<const float> sizes, float finest);

/// Drops of the second substance in a sea of the first, about as dense as spots will be.
Substances sown(const ReactionGround& ground, uint32_t seed);

/// Lets them react and spread. The only error is a cancel.
Outcome react(const ReactionGround& ground, const ReactionSetting& setting, Substances& substances,
              const Progress& progress = {});

/// The second substance between the nodes: one value a sample, smooth.
std::vector<float> spreadOver(const Surface& surface, const ReactionGround& ground,
                              std::span<const float> values);

}  // namespace juvenor
