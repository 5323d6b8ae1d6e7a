#include "core/layers/composite.h"

#include <tbb/parallel_for.h>

#include <numeric>

#include "core/layers/blend_chunk.h"

namespace juvenor {
namespace {

bool contributes(const Layer& layer) {
  return layer.visible && layer.opacity > 0;
}

ColorChunk bareChunk(const EncodedColor& bare) {
  ColorChunk out;
  const Rgba16 tone = opaque16(bare);
  out.plane[0].fill(tone.r);
  out.plane[1].fill(tone.g);
  out.plane[2].fill(tone.b);
  out.plane[3].fill(tone.a);
  return out;
}

void putOn(const Layer& layer, SurfaceMaps& maps, size_t index, ColorChunk& out) {
  if (!contributes(layer)) return;
  const ColorField::Pointer source = layer.source->chunk(maps, index, out);
  if (!source) return;
  ScalarChunk room;
  blendChunk(layer.blend, out, *source, maskChunk(layer, maps, index, room), layer.opacity);
}

// Whether a property that works everywhere differs.
bool changedThroughout(const Layer& a, const Layer& b) {
  return contributes(a) != contributes(b) || a.blend != b.blend || a.opacity != b.opacity ||
         a.mask.has_value() != b.mask.has_value() || a.recipe != b.recipe;
}

void markContent(const Layer& layer, SurfaceMaps& maps, std::vector<char>& marks) {
  if (contributes(layer)) layer.source->markContent(maps, marks);
}

void markDifference(const Layer& a, const Layer& b, SurfaceMaps& maps, std::vector<char>& marks) {
  const bool told = !changedThroughout(a, b) &&
                    (a.source == b.source || !contributes(b) ||
                     (a.source->kind() == b.source->kind() && b.source->markChanges(maps, *a.source, marks)));
  if (!told) {
    markContent(a, maps, marks);
    markContent(b, maps, marks);
    return;
  }
  if (!contributes(a) || !a.mask || !b.mask) return;
  for (size_t i = 0; i < marks.size(); ++i)
    if (a.mask->chunk(i) != b.mask->chunk(i)) marks[i] = 1;
}

}  // namespace

const ScalarChunk* maskChunk(const Layer& layer, SurfaceMaps& maps, size_t index, ScalarChunk& room) {
  const ScalarChunk* painted = layer.mask ? layer.mask->chunk(index).get() : nullptr;
  if (layer.recipe.empty()) return painted;
  const auto worked = maskOf(maps, layer.recipe);
  if (!worked) return painted;
  // the field is kept alive by its product only
  room = *(*worked)->chunk(index);
  if (painted)
    for (size_t i = 0; i < kChunkSize; ++i)
      room.plane[0][i] =
          static_cast<uint16_t>((uint32_t{room.plane[0][i]} * painted->plane[0][i] + 32767) / 65535);
  return &room;
}

ColorField::Pointer compositeChunk(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                                   size_t index) {
  auto out = std::make_shared<ColorChunk>(bareChunk(bare));
  for (const LayerPointer& layer : layers) putOn(*layer, maps, index, *out);
  return out;
}

ColorField::Pointer ownChunk(const LayerStack& layers, uint32_t layer, SurfaceMaps& maps,
                             const EncodedColor& bare, size_t index) {
  ColorChunk below = bareChunk(bare);
  for (const LayerPointer& l : layers) {
    if (l->id == layer) return l->source->chunk(maps, index, below);
    putOn(*l, maps, index, below);
  }
  return nullptr;
}

Outcome prepareLayers(const LayerStack& layers, SurfaceMaps& maps, const Progress& progress) {
  for (size_t i = 0; i < layers.size(); ++i) {
    if (!contributes(*layers[i])) continue;
    const auto share = [&](float f) {
      return report(progress, (static_cast<float>(i) + f) / static_cast<float>(layers.size()));
    };
    Outcome ready = layers[i]->source->prepare(maps, share);
    if (ready && !layers[i]->recipe.empty())
      if (const auto mask = maskOf(maps, layers[i]->recipe, share); !mask) ready = mask.error();
    if (!ready) return ready;
  }
  return Done{};
}

std::vector<uint32_t> changedChunks(const LayerStack& before, const LayerStack& after, SurfaceMaps& maps) {
  std::vector<char> marks(chunkCount(maps.size()), 0);
  // The same layers in the same order can be compared one by one; otherwise the ends that agree are left out.
  size_t head = 0;
  while (head < before.size() && head < after.size() && before[head]->id == after[head]->id) {
    if (before[head] != after[head]) markDifference(*before[head], *after[head], maps, marks);
    ++head;
  }
  size_t tail = 0;
  while (tail + head < before.size() && tail + head < after.size() &&
         before[before.size() - 1 - tail]->id == after[after.size() - 1 - tail]->id) {
    const Layer &a = *before[before.size() - 1 - tail], &b = *after[after.size() - 1 - tail];
    if (&a != &b) markDifference(a, b, maps, marks);
    ++tail;
  }
  for (size_t i = head; i + tail < before.size(); ++i) markContent(*before[i], maps, marks);
  for (size_t i = head; i + tail < after.size(); ++i) markContent(*after[i], maps, marks);
  std::vector<uint32_t> chunks;
  for (uint32_t i = 0; i < marks.size(); ++i)
    if (marks[i]) chunks.push_back(i);
  return chunks;
}

void updateComposite(ColorField& composite, const LayerStack& layers, SurfaceMaps& maps,
                     const EncodedColor& bare, std::span<const uint32_t> chunks) {
  (void)prepareLayers(layers, maps);
  tbb::parallel_for(size_t{0}, chunks.size(), [&](size_t i) {
    composite.setChunk(chunks[i], compositeChunk(layers, maps, bare, chunks[i]));
  });
}

ColorField compositeOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare) {
  ColorField composite(maps.size());
  std::vector<uint32_t> all(composite.chunkCount());
  std::iota(all.begin(), all.end(), 0);
  updateComposite(composite, layers, maps, bare, all);
  return composite;
}

}  // namespace juvenor
