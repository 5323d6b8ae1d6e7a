// All layers into one, against copying the same bytes.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <cstring>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "figures.h"

namespace juvenor::bench {

void benchComposite() {
  Document d = ferryman(2'000'000);
  d.layers.clear();
  for (int i = 0; i < 10; ++i) {
    d = withPaintedLayer(d, "layer", Stratum::Pigment);
    d = *withFilled(d, d.activeLayer, {0.1f * static_cast<float>(i), 0.5f, 0.4f}, 0.5f);
  }
  const auto run = [&](BlendMode mode, float opacity) {
    Document e = d;
    for (const LayerPointer& l : d.layers) {
      LayerChange change;
      change.blend = mode;
      change.opacity = opacity;
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
  const auto row = [&](const char* what, BlendMode mode, float opacity, const char* aim) {
    const double seconds = run(mode, opacity);
    add({fmt::format("Composite of 10 layers, 2 M points, {}", what), milliseconds(seconds),
         "copying the same bytes: " + milliseconds(copy), fmt::format("{:.1f}", seconds / copy), aim});
  };
  const double normal = run(BlendMode::Normal, 1);
  row("Normal", BlendMode::Normal, 1, "");
  row("Multiply", BlendMode::Multiply, 1, "");
  row("Soft light", BlendMode::SoftLight, 1, "");
  row("Stain", BlendMode::Stain, 0.3f, "≤ 4");
  // ten blushes: all of the table's range
  for (const BlendMode mode : {BlendMode::Blood, BlendMode::LiftMelanin}) {
    const double seconds = run(mode, 0.2f);
    add({fmt::format("Composite of 10 layers, 2 M points, {}", blendModeLabel(mode)), milliseconds(seconds),
         "Normal: " + milliseconds(normal), fmt::format("{:.1f}", seconds / normal), "≤ 4"});
  }
  // ten half films: most of it ends where the encoded curve is straight
  row("Stain down to black", BlendMode::Stain, 1, "");
}

}  // namespace juvenor::bench
