// What a filter layer does to the colours below it by what lies around: melts them, sharpens them, or pulls
// them along a direction so that edges look brushed.
#pragma once

#include "core/layers/guides.h"
#include "core/layers/source.h"

namespace juvenor {

struct Filter {
  enum class Way { Melt, Sharpen, Painterly };
  Way way = Way::Melt;
  /// Size: the deviation by which Melt and Sharpen spread, the way Painterly pulls; scene units. Only
  /// Painterly looks at the rest.
  Guides guides;
  float amount = 0.6f;   ///< of Sharpen: 0 nothing … 2 three times the difference
  float bristle = 0.2f;  ///< of Painterly: width of what it pulls alike, by the size
  uint32_t seed = 1;

  bool operator==(const Filter&) const = default;
};

SourcePointer filterSource(Filter filter);
/// What a layer of the kind is set to, or null for others.
const Filter* filterOf(const LayerSource& source);

/// Colours prepared to be filtered on one surface: which chunks each looks at, and what becomes of one.
class ColorFilter {
 public:
  virtual ~ColorFilter() = default;
  virtual std::span<const uint32_t> around(size_t chunk) const = 0;
  virtual ColorField::Pointer filtered(size_t index, const BelowColors& below) const = 0;
  /// What it holds, for who keeps it.
  virtual size_t bytes() const = 0;
};
using ColorFilterPointer = std::shared_ptr<const ColorFilter>;

/// Heat along the skin with a deviation (scene units), as far as it is felt; encoded colours.
Result<ColorFilterPointer> meltFilter(SurfaceMaps& maps, float deviation, const Progress& progress = {});
/// Each sample takes the mean of some back along the direction, as far as a noise of streaks says.
/// `lengths` one a sample, `bristle` the width of streaks, scene units.
Result<ColorFilterPointer> painterlyFilter(SurfaceMaps& maps, std::span<const Vec3> directions,
                                           std::span<const float> lengths, float bristle, uint32_t seed,
                                           const Progress& progress = {});

}  // namespace juvenor
