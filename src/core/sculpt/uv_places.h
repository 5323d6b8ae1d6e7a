// Fills a UV set: places that a vertex has in several polygons are kept once.
#pragma once

#include "core/sculpt/sculpt.h"

namespace juvenor {

class UvPlaces {
 public:
  /// Places of a vertex no farther apart than `near` are one.
  UvPlaces(UvSet& set, size_t vertices, float near = 0)
      : set_(set), near_(near), last_(vertices, kNone), before_(set.coordinates.size(), kNone) {}

  /// The number of a vertex's place in the set, which gets it where it is new.
  uint32_t of(uint32_t vertex, const Vec2& uv) {
    uint32_t& newest = last_[vertex];
    for (uint32_t at = newest; at != kNone; at = before_[at])
      if ((set_.coordinates[at] - uv).cwiseAbs().maxCoeff() <= near_) return at;
    set_.coordinates.push_back(uv);
    before_.push_back(newest);
    return newest = static_cast<uint32_t>(set_.coordinates.size() - 1);
  }

 private:
  UvSet& set_;
  float near_;
  std::vector<uint32_t> last_, before_;  ///< of each vertex its last place, and of each place the one before
};

}  // namespace juvenor
