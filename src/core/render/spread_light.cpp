#include "core/render/spread_light.h"

#include <fmt/format.h>

#include "core/parallel.h"

namespace juvenor {
namespace {

using Through = std::vector<ThroughForm>;

Result<std::shared_ptr<const Through>> throughOf(SurfaceMaps& maps, float most) {
  return maps.derived<Through>(fmt::format("through {:.4g}", most),
                               [&]() -> Result<std::shared_ptr<const Through>> {
                                 const auto rays = maps.rays();
                                 if (!rays) return rays.error();
                                 return std::make_shared<const Through>(throughForms(**rays, most));
                               });
}

}  // namespace

Result<std::vector<ReceivedLight>> spreadLight(const Lighting::Received& received, SurfaceMaps& maps,
                                               const Progress& progress) {
  std::vector<ReceivedLight> hard(received.samples);
  parallel(hard.size(), [&](size_t s) { hard[s] = (*received.chunks[s / kChunkSize])[s % kChunkSize]; });
  auto out = wandered(maps.ladder(), hard, received.millimetres, received.depth, progress);
  if (!out) return out;
  const auto through = throughOf(maps, kThickestGlow * received.depth / received.millimetres);
  if (!through) return through.error();
  addGlow(*out, hard, **through, received.millimetres, received.depth);
  return out;
}

}  // namespace juvenor
