// The samples a dab reaches and how strongly. The samples are found by flooding from the point under the pen
// along the skin, never through the air: what is near in space but far along the surface (a lip above a lip,
// an ear before the skull) stays dry, and the cost follows what lies under the brush, not the size of the
// sculpt.
#pragma once

#include <optional>
#include <vector>

#include "core/brush/brush.h"
#include "core/surface/distance/exponential_map.h"
#include "core/surface/mirror/mirrors.h"
#include "core/surface/ray.h"

namespace juvenor {

struct Dab {
  SurfacePoint at;
  float radius = 0;  ///< scene units
  float hardness = 0;
  float opacity = 0;
  float flow = 0;
  bool frontOnly = true;
  bool allParts = false;
  // what tips that are not round go by
  Vec3 along = Vec3::UnitX();         ///< a tangent: where a stamp's right side is
  bool flipped = false;               ///< a stamp's other side lies upward: it is mirrored
  uint64_t seed = 0;                  ///< what it draws from
  float dots = 0;                     ///< a spray lays so many on a square scene unit at full weight
  std::optional<EncodedColor> color;  ///< in place of the pen's
  Mirrors mirrors;
  Mirrors::Across across{};  ///< those it came through; none: the dab under the pen
  float looseness = 0;       ///< of that mirroring, see Brush
  bool addsUp = false;       ///< what it covers lies beside what was covered before, not over it
};

/// Which of the eight sides mirrors can make it is on; 0: the one under the pen.
inline size_t sideOf(const Dab& dab) {
  return static_cast<size_t>(dab.across[0]) + 2 * static_cast<size_t>(dab.across[1]) +
         4 * static_cast<size_t>(dab.across[2]);
}

/// Samples in the order they were reached, and a weight 0…1 for each. Where a tip brings values of its own
/// the lists after are as long, else empty.
struct Footprint {
  std::vector<uint32_t> samples;
  std::vector<float> weights;
  std::vector<EncodedColor> colors;  ///< in place of the pen's
  std::vector<float> relief, gloss;  ///< parts of the pen's height (−1…1) and gloss (0…1)

  void clear();
};

/// How much of a dab lies on skin that faces the viewer: nothing where it turns away.
float facing(const Vec3& normal, const Vec3& toViewer);

/// Marks that live as long as a surface is painted on, so that a dab needs no clearing of millions.
class Flood {
 public:
  void find(const Surface& surface, const Dab& dab, Footprint& out);
  /// Makes room for a surface ahead, so that the first dab need not.
  void prepare(const Surface& surface);
  /// What lays skin flat, for tips that need it.
  ExponentialMap& flattening() { return flattening_; }

 private:
  void from(const Surface& surface, const Dab& dab, uint32_t seed, uint32_t part, Footprint& out);
  bool take(const Surface& surface, const Dab& dab, uint32_t sample, uint32_t part, float path,
            Footprint& out);
  void spread(const Surface& surface, const Dab& dab, uint32_t part, Footprint& out);

  std::vector<uint32_t> visit_;
  std::vector<float> path_;
  std::vector<uint32_t> found_;
  uint32_t round_ = 0;
  size_t cursor_ = 0;
  ExponentialMap flattening_;
};

/// The dab on the other side of one of its mirrors, x, y or z; nothing when no sample lies within `tolerance`
/// of the mirrored place.
std::optional<Dab> mirrored(const Surface& surface, const Dab& dab, int axis, float tolerance);

}  // namespace juvenor
