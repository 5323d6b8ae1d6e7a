// A smooth field of directions over the skin: of all fields the one that turns least from place to place,
// drawn toward what is asked for in places, toward the main curvatures of forms, and toward one general flow
// where nothing else says anything (globally optimal direction fields: Knöppel, Crane, Pinkall, Schröder
// 2013; with directions kept at unit length from level to level as in Jakob, Tarini, Panozzo, Sorkine-Hornung
// 2015). A direction is a complex number in its place's own frame, to the power of its symmetry. Worked out
// from the coarsest graph of the ladder to the finest but one, and blended from there to the samples.
#pragma once

#include <memory>

#include "core/progress.h"
#include "core/surface/distance/tangent_frames.h"
#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// What a field is drawn to at a sample.
struct DirectionWish {
  uint32_t sample = 0;
  Vec3 direction = Vec3::Zero();  ///< of any length above 0; only what lies in the skin counts
  float strength = 1;             ///< 0…1
};

enum class Symmetry {
  Direction = 1,  ///< like hair: whole turns are alike
  Line = 2,       ///< like stripes: half turns are
  Cross = 4       ///< quarter turns
};

struct DirectionSetting {
  Symmetry symmetry = Symmetry::Direction;
  Vec3 flow = Vec3::Zero();  ///< unit, or zero: none
  float curvature = 0;       ///< 0…1: how much it goes along limbs, ridges and creases
  float form = 10;           ///< the size of those, scene units
};

/// What does not depend on wishes: frames and how directions go from node to node, level by level.
class DirectionLadder {
 public:
  DirectionLadder(const Surface& surface, std::shared_ptr<const SkinLadder> ladder);

  struct Level {
    const SkinGraph* graph;
    float cell;
    TangentFrames frames;
    std::vector<std::complex<float>> turns;  ///< of each edge: from the neighbour to the node
  };
  /// Finest first; the finest lies one step above the samples where there is one.
  std::span<const Level> levels() const { return levels_; }
  /// The node of a level over each node of the level before it.
  std::span<const uint32_t> above(size_t level) const { return ladder_->coarser[first_ + level]; }
  /// The node of the finest level over each sample, or empty: the samples themselves.
  std::span<const uint32_t> aboveSamples() const {
    return first_ ? std::span<const uint32_t>(ladder_->coarser[0]) : std::span<const uint32_t>();
  }
  size_t bytes() const;

 private:
  std::shared_ptr<const SkinLadder> ladder_;
  size_t first_;
  std::vector<Level> levels_;
};

/// Unit tangent vectors, one a sample; of a line or a cross any of its directions. The only error is a
/// cancel.
Result<std::vector<Vec3>> directionField(const Surface& surface, const DirectionLadder& ladder,
                                         const DirectionSetting& setting,
                                         std::span<const DirectionWish> wishes,
                                         const Progress& progress = {});

}  // namespace juvenor
