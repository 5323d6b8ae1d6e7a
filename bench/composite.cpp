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
  const auto run = [&](const std::function<BlendMode(size_t)>& modeOf, float opacity) {
    Document e = d;
    for (size_t i = 0; i < d.layers.size(); ++i) {
      LayerChange change;
      change.blend = modeOf(i);
      change.opacity = opacity;
      e = *withLayerChanged(e, d.layers[i]->id, change);
    }
    return secondsOf(fmt::format("composite of ten, {}", blendModeKey(modeOf(5))),
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
    const double seconds = run([&](size_t) { return mode; }, opacity);
    add({fmt::format("Composite of 10 layers, 2 M points, {}", what), milliseconds(seconds),
         "copying the same bytes: " + milliseconds(copy), fmt::format("{:.1f}", seconds / copy), aim});
  };
  const double normal = run([](size_t) { return BlendMode::Normal; }, 1);
  row("Normal", BlendMode::Normal, 1, "");
  row("Multiply", BlendMode::Multiply, 1, "");
  row("Soft light", BlendMode::SoftLight, 1, "");
  row("Stain", BlendMode::Stain, 0.3f, "≤ 4");
  // blushes with others between them, five of them; and three runs of three: those of one kind are one film
  const double plain = normal / 10;
  for (const BlendMode mode : {BlendMode::Blood, BlendMode::LiftMelanin})
    for (const int together : {1, 3}) {
      const auto isBlush = [&](size_t i) { return together == 1 ? i % 2 == 0 : i % 4 != 0 && i < 8; };
      size_t blushes = 0;
      for (size_t i = 0; i < 10; ++i) blushes += isBlush(i);
      const double seconds = run([&](size_t i) { return isBlush(i) ? mode : BlendMode::Normal; }, 0.2f);
      const auto count = static_cast<double>(blushes);
      const double each = together * (seconds - plain * (10 - count)) / count;
      add({fmt::format("{} of {}, 2 M points", together == 1 ? "A layer" : "Three layers in a row",
                       blendModeLabel(mode)),
           milliseconds(each), "a Normal layer: " + milliseconds(plain), fmt::format("{:.1f}", each / plain),
           "≤ 4"});
    }
  // ten half films: most of it ends where the encoded curve is straight
  row("Stain down to black", BlendMode::Stain, 1, "");
}

}  // namespace juvenor::bench
