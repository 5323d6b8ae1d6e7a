// Points spread over the skin at an even distance, in an order in which every beginning of the list is spread
// just as evenly (progressive blue noise). They stand where lines in space meet the skin, not at samples, so
// that a coarse and a fine sculpt of the same form get the same ones.
#pragma once

#include "core/surface/maps/surface_maps.h"

namespace juvenor {

struct SkinSeed {
  Vec3 position;    ///< on a triangle
  Vec3 normal;      ///< unit
  uint32_t sample;  ///< the corner of that triangle next to it
  uint32_t key;     ///< random bits of its own
  float rank;       ///< 0…about 1: those up to r are 1/√r times as far apart as all of them
};

struct SkinSeeds {
  std::vector<SkinSeed> seeds;  ///< by rank
  float density = 0;            ///< how many a square scene unit would have up to rank 1
  float upTo = 1;               ///< the rank up to which there are any

  size_t bytes() const { return sizeof(SkinSeed) * seeds.capacity(); }
};
using SkinSeedsPointer = std::shared_ptr<const SkinSeeds>;

/// How many a square scene unit gets when no two are nearer than `distance`.
float seedDensity(float distance);
/// The distance for a density.
float seedDistance(float density);

/// No two of a part nearer than `distance` (scene units) in space, unless the skin turns away between them.
/// Those that would be nearer than `least` are left out: the last ones in the order. Remembered by `maps`. On
/// skin so large that there would be more than two million, the distance doubles.
Result<SkinSeedsPointer> skinSeeds(SurfaceMaps& maps, float distance, uint32_t seed,
                                   const Progress& progress = {}, float least = 0);
bool hasSkinSeeds(SurfaceMaps& maps, float distance, uint32_t seed, float least = 0);

}  // namespace juvenor
