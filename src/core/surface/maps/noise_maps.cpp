// Noise as surface maps: cloud, cells and ridges in space, cut by the skin, the same for every density of
// points and whichever way the sculpt stands.
#include "core/parallel.h"
#include "core/surface/even_noise.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {
namespace {

template <NoiseKind Kind>
Measure noiseOver(SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) {
  const Surface& surface = maps.surface();
  const Eigen::Matrix3f back = surface.turn.transpose();
  const float scale = std::max(setting.scale, 1e-6f * surface.bounds.diagonal());
  std::vector<float> out(surface.size());
  parallel(out.size(), [&](size_t s) {
    out[s] = evenNoise(Kind, back * surface.positions[s] / scale, std::sqrt(surface.areas[s]) / scale,
                       setting.seed);
  });
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
