// Layers that change what lies below: an adjust layer against a painted one in its place, and what a dab
// below a filter costs.
#include <fmt/format.h>

#include <numeric>

#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/filters/filter.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/painted.h"
#include "core/surface/build/search.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

LayerPointer layerOf(uint32_t id, SourcePointer source) {
  return std::make_shared<Layer>(Layer{id, "l", Stratum::Surface, std::move(source), {}, {}});
}

SourcePointer paintedAllOver(size_t samples, uint16_t value) {
  ColorField field(samples);
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (auto& plane : chunk->plane) plane.fill(value);
    field.setChunk(c, std::move(chunk));
  }
  return paintedSource(std::move(field));
}

void benchAdjust() {
  const Document& d = ferryman(2'000'000);
  const size_t samples = d.surface->size();
  std::vector<uint32_t> all(chunkCount(samples));
  std::iota(all.begin(), all.end(), 0);
  const LayerPointer ground = layerOf(1, fillSource(EncodedColor{0.5f, 0.4f, 0.3f}));
  const auto seconds = [&](const char* name, SourcePointer source) {
    const auto stack = prepared({ground, layerOf(2, std::move(source))}, *d.maps);
    ColorField skin(samples);
    return leastSecondsOf(
        name, [&] { updateComposite(skin, *stack, d.bare, all); }, 7);
  };
  Adjust adjust;
  adjust.saturation = 0.3f;
  adjust.contrast = 0.2f;
  const double normal = seconds("normal", paintedAllOver(samples, 30000)),
               adjusted = seconds("adjust", adjustSource(adjust));
  adjust.curve = {{0, 0}, {0.5f, 0.6f}, {1, 1}};
  const double curved = seconds("adjust with a curve", adjustSource(adjust));
  add({"an adjust layer composited, 2 M points", milliseconds(adjusted),
       fmt::format("a Normal layer: {}", milliseconds(normal)), fmt::format("{:.2f}", adjusted / normal),
       "≤ 1.5"});
  add({"the same with a curve", milliseconds(curved), fmt::format("a Normal layer: {}", milliseconds(normal)),
       fmt::format("{:.2f}", curved / normal), "≤ 1.5"});
}

// A dab of 20 mm below a filter, again and again: everything that feels it.
void benchFilterDab(const char* name, Filter::Way way) {
  const Document& d = ferryman(2'000'000);
  const size_t samples = d.surface->size();
  Filter filter;
  filter.way = way;
  filter.guides = usualGuides(d.surface->bounds.diagonal());
  filter.guides.size.size = 2.5f;
  PreparedStack stack = linked(
      *prepared({layerOf(1, paintedAllOver(samples, 30000)), layerOf(2, filterSource(filter))}, *d.maps),
      d.bare, samples);
  ColorField skin = compositeOf(stack, samples, d.bare);
  std::vector<uint32_t> near, touched;
  samplesWithin(*d.surface, {20, 60, 90}, 20, near);
  for (const uint32_t s : near) touched.push_back(static_cast<uint32_t>(s / kChunkSize));
  std::ranges::sort(touched);
  touched.erase(std::ranges::unique(touched).begin(), touched.end());
  updateComposite(skin, stack, d.bare, feltChunks(stack, 1, touched, samples));
  const double dab = leastSecondsOf(
      name,
      [&] {
        const auto felt = feltChunks(stack, 1, touched, samples);
        stack = linked(stack, d.bare, samples, stack, felt);
        updateComposite(skin, stack, d.bare, felt);
      },
      15);
  add({fmt::format("a dab below {}, {} chunks touched", name, touched.size()), milliseconds(dab),
       "a frame: 16 ms", fmt::format("{:.2f}", dab / 0.016), "≤ 1"});
}

}  // namespace

void benchFilters() {
  benchAdjust();
  benchFilterDab("a filter that melts 2.5 mm", Filter::Way::Melt);
  benchFilterDab("a painterly one of 2.5 mm", Filter::Way::Painterly);
}

}  // namespace juvenor::bench
