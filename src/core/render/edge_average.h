// Pictures with jittered rays added up as light, so that edges get smooth one picture after the other, those
// of highlights too. Where all is smooth and a part changes, that part alone goes through it again.
#pragma once

#include "core/render/picture.h"

namespace juvenor {

/// How many rays smooth each pixel when the easel is at rest.
inline constexpr int kSettledEdgeRays = 8;

class EdgeAverage {
 public:
  /// All of the picture changes, or a part of it, in pixels of it. Nothing is smooth before the first of
  /// these.
  void begin();
  void begin(const PixelRect& part);
  bool smooth() const { return begun_ && passes_ >= kSettledEdgeRays; }

  /// What the next picture is to hold, and the number of its rays (jitterOf).
  PixelRect wanted(const ViewSize& size) const {
    return whole_ ? PixelRect{0, 0, size.width, size.height} : part_;
  }
  int pass() const { return passes_; }
  /// Adds that of a picture in linear light, and gives the mean of all so far there as 0xffRRGGBB, on all
  /// cores. Both are as large as the whole picture.
  void add(std::span<const Vec3> light, const ViewSize& size, Toning toning, std::span<uint32_t> mean);

 private:
  std::vector<Vec3> sums_;
  PixelRect part_;
  int passes_ = 0;
  bool begun_ = false, whole_ = true;
};

}  // namespace juvenor
