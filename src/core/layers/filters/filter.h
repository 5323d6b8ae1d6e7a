// What a filter layer does to the skin below it by what lies around: melts it, sharpens it, pulls it along a
// direction so that edges look brushed, takes out what is broad in it, or puts what is fine in one layer on
// what is broad in those below.
#pragma once

#include "core/layers/guides.h"
#include "core/layers/plane_filter.h"
#include "core/layers/source.h"

namespace juvenor {

struct Filter {
  enum class Way { Melt, Sharpen, Painterly, EvenOut, SwapDetail };
  Way way = Way::Melt;
  ChannelSet on = Channel::Color;  ///< what it works on
  /// Size: the deviation by which Melt and Sharpen spread and what is broad is told from what is fine, the
  /// way Painterly pulls; scene units. Only Painterly looks at the rest.
  Guides guides;
  /// Of Sharpen: 0 nothing … 2 three times the difference. Of EvenOut: how much of what is broad goes, 0…1.
  /// Of SwapDetail: how strong what is fine comes out, 1 as it is.
  float amount = 0.6f;
  bool broad = false;    ///< of SwapDetail: what it hangs on gives what is broad, not what is fine
  float bristle = 0.2f;  ///< of Painterly: width of what it pulls alike, by the size
  uint32_t seed = 1;

  bool operator==(const Filter&) const = default;
};

template <>
std::span<const Member<Filter>> membersOf();

SourcePointer filterSource(Filter filter);
/// What a layer of the kind is set to, or null for others.
const Filter* filterOf(const LayerSource& source);

/// Heat along the skin with a deviation (scene units), as far as it is felt. Remembered by `maps`.
Result<PlaneFilterPointer> meltFilter(SurfaceMaps& maps, float deviation, const Progress& progress = {});
bool hasMeltFilter(SurfaceMaps& maps, float deviation);
/// Each sample takes the mean of some back along the direction, as far as a noise of streaks says.
struct Pulling {
  const DirectionGuide& direction;
  const SizeGuide& length;
  float bristle;  ///< width of streaks, scene units
  uint32_t seed;
};
/// Remembered by `maps`.
Result<PlaneFilterPointer> painterlyFilter(SurfaceMaps& maps, const Pulling& pulling,
                                           const Progress& progress = {});
bool hasPainterlyFilter(SurfaceMaps& maps, const Pulling& pulling);

}  // namespace juvenor
