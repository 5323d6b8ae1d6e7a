// Pictures with jittered rays added up, so that edges get smooth one picture after the other.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace juvenor {

class EdgeAverage {
 public:
  void begin() { passes_ = 0; }
  int passes() const { return passes_; }
  /// Adds a picture (0xAARRGGBB) and gives the mean of all so far, on all cores.
  void add(std::span<const uint32_t> pixels, std::span<uint32_t> mean);

 private:
  std::vector<std::array<uint16_t, 3>> sums_;
  int passes_ = 0;
};

}  // namespace juvenor
