#include "core/render/spread_light.h"

#include "core/parallel.h"
#include "core/render/through_forms.h"

namespace juvenor {

Result<std::vector<ReceivedLight>> spreadLight(const Lighting::Received& received, SurfaceMaps& maps,
                                               const Progress& progress) {
  std::vector<ReceivedLight> hard(received.samples);
  parallel(hard.size(), [&](size_t s) { hard[s] = (*received.chunks[s / kChunkSize])[s % kChunkSize]; });
  auto out = wandered(maps.ladder(), hard, received.millimetres, received.depth, progress);
  if (!out) return out;
  const auto through = throughForms(maps, kThickestGlow * received.depth / received.millimetres);
  if (!through) return through.error();
  addGlow(*out, hard, **through, received.millimetres, received.depth);
  return out;
}

}  // namespace juvenor
