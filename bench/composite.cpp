// All layers into one, against copying the same bytes.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <cstring>

#include "core/document/edits.h"
#include "core/layers/composite.h"
#include "figures.h"

namespace juvenor::bench {

void benchComposite() {
  Document d = ferryman(2'000'000);
  d.layers.clear();
  for (int i = 0; i < 10; ++i) {
    d = withPaintedLayer(d, "layer", Stratum::Pigment);
    d = *withFilled(d, d.activeLayer, {0.1f * static_cast<float>(i), 0.5f, 0.4f}, 0.5f);
  }
  const auto run = [&](BlendMode mode) {
    Document e = d;
    for (const LayerPointer& l : d.layers) {
      LayerChange change;
      change.blend = mode;
      e = *withLayerChanged(e, l->id, change);
    }
    return secondsOf(fmt::format("composite of ten, {}", blendModeKey(mode)),
                     [&] { (void)*compositeOf(e.layers, *e.maps, e.bare); });
  };
  std::vector<std::shared_ptr<ColorChunk>> into(chunkCount(d.surface->size()));
  const double copy = secondsOf("copy of ten layers", [&] {
    tbb::parallel_for(size_t{0}, into.size(), [&](size_t i) {
      into[i] = std::make_shared<ColorChunk>();
      for (const LayerPointer& l : d.layers)
        std::memcpy(into[i].get(), l->source->painted()->chunk(i).get(), sizeof(ColorChunk));
    });
  });
  for (const BlendMode mode :
       {BlendMode::Normal, BlendMode::Multiply, BlendMode::SoftLight, BlendMode::Stain}) {
    const double seconds = run(mode);
    add({fmt::format("Composite of 10 layers, 2 M points, {}", blendModeLabel(mode)), milliseconds(seconds),
         "copying the same bytes: " + milliseconds(copy), fmt::format("{:.1f}", seconds / copy), ""});
  }
}

}  // namespace juvenor::bench
