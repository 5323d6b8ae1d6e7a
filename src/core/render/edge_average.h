// Pictures with jittered rays added up as light, so that edges get smooth one picture after the other, those
// of highlights too.
#pragma once

#include <span>
#include <vector>

#include "core/render/tone.h"

namespace juvenor {

class EdgeAverage {
 public:
  void begin() { passes_ = 0; }
  int passes() const { return passes_; }
  /// Adds a picture of so many pixels a row, in linear light, and gives the mean of all so far as 0xffRRGGBB,
  /// on all cores.
  void add(std::span<const Vec3> light, int width, Toning toning, std::span<uint32_t> mean);

 private:
  std::vector<Vec3> sums_;
  int passes_ = 0;
};

}  // namespace juvenor
