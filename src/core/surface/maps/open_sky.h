// Along which of many ways, spread evenly over all directions, each place of the skin sees the sky: rays from
// one sample for every node of a coarse level, told apart way by way, so that any light can be laid on the
// form with its cast shadows and without another ray.
#pragma once

#include <array>

#include "core/surface/graph/skin_level.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

inline constexpr size_t kSkyWays = 128;
/// The ways, unit length: a spiral from the top down, each with the same share of all directions.
std::span<const Vec3, kSkyWays> skyWays();

struct OpenSky {
  SkinLevel level;
  std::vector<Vec3> normals;  ///< of the level's nodes
  /// For each node and way 0 (blocked, or behind the skin) … 255 (open), soft over a few nodes.
  std::vector<std::array<uint8_t, kSkyWays>> open;

  size_t bytes() const {
    return sizeof(uint32_t) * level.nodeOf.capacity() + sizeof(Vec3) * normals.capacity() +
           sizeof(open[0]) * open.capacity();
  }
};

/// At the finest level of no more than 200,000 nodes; remembered with the surface. The only errors are a
/// cancel, or what the ray structure says.
Result<std::shared_ptr<const OpenSky>> openSky(SurfaceMaps& maps, const Progress& progress = {});

}  // namespace juvenor
