// Skin drawn flat: planes of values over a grid, and where there is skin at all.
#pragma once

#include "core/graft/patch.h"
#include "core/surface/surface.h"

namespace juvenor {

struct FlatPicture {
  int width = 0, height = 0;
  std::vector<float> covered;  ///< 0…1, row by row from the top
  std::vector<std::vector<float>> planes;
};

struct FlatSize {
  int width = 0, height = 0;
  float pixel = 1;  ///< scene units
};

/// Draws the patch's triangles, its middle in the picture's; `values`: for each plane a value of every sample
/// of the patch, mixed linearly within a triangle.
FlatPicture drawnFlat(const Surface& surface, const Patch& patch, std::span<const std::vector<float>> values,
                      const FlatSize& size);
/// The mean of `by` × `by` pixels; where skin is missing, of those there are.
FlatPicture shrunk(const FlatPicture& picture, int by);

/// A plane softened by a Gaussian over skin alone.
class SoftPlane {
 public:
  /// `deviation` in pixels.
  SoftPlane(const std::vector<float>& plane, const FlatPicture& picture, float deviation);
  /// One row of the picture it was made from, `width` pixels.
  std::vector<float> row(int y, int width) const;

 private:
  int width_ = 0, height_ = 0, by_ = 1;
  std::vector<float> values_;
};

/// Takes away what lies outside of the patch's outline, when it has one. `rim`: pixels of margin.
void keepInside(FlatPicture& picture, const Patch& patch, int rim, float pixel);
/// How much of each pixel is laid: 0 where there is no skin and at its rim, 1
/// from `over` pixels on.
std::vector<float> feathered(const FlatPicture& picture, float over);
/// A plane without the margin.
std::vector<float> cropped(const std::vector<float>& plane, const FlatPicture& picture, int rim);

}  // namespace juvenor
