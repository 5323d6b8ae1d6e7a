// A piece of skin laid flat around a place: the discrete exponential map (Schmidt, Grimm, Wyvill 2006). A
// front walks outward over the edges and carries a direction along with it, turned from normal to normal;
// each sample's place on the flat is that of its settled neighbours (their mean, as in Schmidt 2013) plus the
// step to it. Exact where the skin unrolls; elsewhere distances and directions from the middle are kept, and
// nothing smears over sides.
#pragma once

#include "core/surface/ray.h"
#include "core/zeroed.h"

namespace juvenor {

/// Samples in the order they were reached, and their places on the flat in scene units.
struct SkinChart {
  std::vector<uint32_t> samples;
  std::vector<Vec2> places;
};

/// Keeps marks for one surface, so that a chart's cost follows its own size.
class ExponentialMap {
 public:
  /// The chart of the skin within `reach` of a place, of its own part. `along` becomes the flat's x axis, y
  /// is left of it seen from outside. It ends where it leaves a rectangle, `half` as wide and high.
  void find(const Surface& surface, const SurfacePoint& at, const Vec3& along, float reach, SkinChart& out,
            const Vec2& half = Vec2::Constant(std::numeric_limits<float>::infinity()));

 private:
  struct Node {
    uint32_t round;  ///< it belongs to
    uint32_t settled;
    float distance;              ///< from the middle, as it was offered
    std::array<float, 2> place;  ///< once settled, or where the front begins
    std::array<float, 3> axis;
  };
  void begin(const Surface& surface, float reach);
  bool offer(uint32_t sample, float distance);
  void carryOn(const Surface& surface, uint32_t from, const Vec2& half);
  void settle(const Surface& surface, uint32_t sample);
  bool isSettled(uint32_t sample) const { return nodes_[sample].round == round_ && nodes_[sample].settled; }

  Zeroed<Node> nodes_{0};
  /// The front by distance, in steps far finer than what samples are apart: nothing depends on the order
  /// within one (Dial 1969).
  std::vector<std::vector<uint32_t>> front_;
  size_t steps_ = 0;  ///< of them that are in use; the others keep their memory for a longer reach
  size_t turn_ = 0;   ///< the step that has its turn
  uint32_t round_ = 0;
  float reach_ = 0, hair_ = 0, perStep_ = 0;
};

}  // namespace juvenor
