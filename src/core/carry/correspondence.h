// For each sample of a new skin where on the old one it comes from: the nearest place that looks the same way
// and belongs to the same part, and what of the old samples counts there. Where new points lie as close as
// old ones, those are the three corners of the triangle; where they lie wider, all that lies within the
// sample's own area, found along the skin, so that nothing is taken from across a gap. How sure each place is
// is told as doubt.
#pragma once

#include "core/carry/match_parts.h"

namespace juvenor {

/// Old samples and their weights for each new one.
struct Correspondence {
  std::vector<uint32_t> start;   ///< new samples + 1 offsets into the two below
  std::vector<uint32_t> sample;  ///< of the old surface
  std::vector<float> weight;     ///< of those of one sample, sums to 1
  std::vector<uint16_t> doubt;   ///< 0 sure … 65535 nothing was found

  size_t size() const { return doubt.size(); }
  /// Whether a new sample has any source.
  bool has(size_t s) const { return start[s + 1] > start[s]; }
};
size_t bytesOf(const Correspondence& correspondence);

/// A place one looks for: in the scene of the old sculpt.
struct SoughtPlace {
  Vec3 position, normal;
  float radius;              ///< of the area it stands for, scene units of the old sculpt
  uint32_t part;             ///< of the new sculpt
  uint32_t exactly = kNone;  ///< the old sample that it is, where one knows
};

struct CorrespondenceSetting {
  float reach = 0;  ///< scene units of the old sculpt: what lies farther off is not found
  float sure = 0;   ///< up to where a place is not doubted at all
};

/// `sought(s)` gives the place of each of `count` samples; `sources`: for each new part the old ones.
Result<Correspondence> correspondenceOf(size_t count, const std::function<SoughtPlace(size_t)>& sought,
                                        const Rays& old, const PartSources& sources,
                                        const CorrespondenceSetting& setting, const Progress& progress = {});

}  // namespace juvenor
