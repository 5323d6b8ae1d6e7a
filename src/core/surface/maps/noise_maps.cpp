// Noise as surface maps: cloud, cells and ridges in space, cut by the skin, the same for every density of
// points and whichever way the sculpt stands.
#include <algorithm>

#include "core/noise/even_noise.h"
#include "core/parallel.h"
#include "core/surface/field.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {
namespace {

template <NoiseKind Kind>
Measure noiseOver(SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) {
  const Surface& surface = maps.surface();
  const Eigen::Matrix3f back = surface.turn.transpose();
  const float scale = std::max(setting.scale, 1e-6f * surface.bounds.diagonal());
  std::vector<float> out(surface.size());
  parallel(
      chunkCount(out.size()),
      [&](size_t chunk) {
        const size_t first = chunk * kChunkSize, end = std::min(out.size(), first + kChunkSize);
        PlaceRow places(end - first);
        std::vector<float> apart(end - first);
        for (size_t s = first; s < end; ++s) {
          places.set(s - first, back * surface.positions[s]);
          apart[s - first] = std::sqrt(surface.areas[s]);
        }
        std::ranges::copy(evenNoise(Kind, places, scale, apart, setting.seed),
                          out.begin() + static_cast<std::ptrdiff_t>(first));
      },
      1);
  if (!report(progress, 1)) return cancelledError();
  return out;
}

constexpr float kUsualScale = 0.03f;

}  // namespace

constinit const MapKind kCloudMap{
    "cloud", "Cloud", "thick cloud", true, false, kUsualScale, false, noiseOver<NoiseKind::Cloud>, true};
constinit const MapKind kCellsMap{"cells",     "Cells", "where cells meet",          true, false,
                                  kUsualScale, false,   noiseOver<NoiseKind::Cells>, true};
constinit const MapKind kRidgedMap{"ridged",    "Ridges", "on branching ridges",        true, false,
                                   kUsualScale, false,    noiseOver<NoiseKind::Ridged>, true};

}  // namespace juvenor
