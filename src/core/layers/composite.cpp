#include "core/layers/composite.h"

#include <tbb/parallel_for.h>

#include <numeric>

#include "core/layers/blend_chunk.h"

namespace juvenor {
namespace {

bool contributes(const Layer& layer) {
  return layer.visible && layer.opacity > 0;
}

// Whether every chunk of a layer must be taken as changed: a property differs, or its source is worked out
// anew.
bool changedThroughout(const Layer& a, const Layer& b) {
  return contributes(a) != contributes(b) || a.blend != b.blend || a.opacity != b.opacity ||
         a.mask.has_value() != b.mask.has_value() ||
         (a.source != b.source && (!a.source->painted() || !b.source->painted()));
}

// Marks where the layer puts anything at all.
void markContent(const Layer& layer, std::vector<char>& marks) {
  if (!contributes(layer)) return;
  const ColorField* field = layer.source->painted();
  for (size_t i = 0; i < marks.size(); ++i)
    if (!field || field->chunk(i)) marks[i] = 1;
}

void markDifference(const Layer& a, const Layer& b, std::vector<char>& marks) {
  if (changedThroughout(a, b)) {
    markContent(a, marks);
    markContent(b, marks);
    return;
  }
  if (!contributes(a)) return;
  const ColorField *f = a.source->painted(), *g = b.source->painted();
  for (size_t i = 0; i < marks.size(); ++i) {
    if (f && g && f->chunk(i) != g->chunk(i)) marks[i] = 1;
    if (a.mask && b.mask && a.mask->chunk(i) != b.mask->chunk(i)) marks[i] = 1;
  }
}

}  // namespace

ColorField::Pointer compositeChunk(const LayerStack& layers, const Surface& surface, const EncodedColor& bare,
                                   size_t index) {
  auto out = std::make_shared<ColorChunk>();
  const Rgba16 tone = opaque16(bare);
  out->plane[0].fill(tone.r);
  out->plane[1].fill(tone.g);
  out->plane[2].fill(tone.b);
  out->plane[3].fill(tone.a);
  for (const LayerPointer& layer : layers) {
    if (!contributes(*layer)) continue;
    const ColorField::Pointer source = layer->source->chunk(surface, index);
    if (!source) continue;
    const ScalarChunk* mask = layer->mask ? layer->mask->chunk(index).get() : nullptr;
    blendChunk(layer->blend, *out, *source, mask, layer->opacity);
  }
  return out;
}

std::vector<uint32_t> changedChunks(const LayerStack& before, const LayerStack& after, size_t samples) {
  std::vector<char> marks(chunkCount(samples), 0);
  // The same layers in the same order can be compared one by one; otherwise the ends that agree are left out.
  size_t head = 0;
  while (head < before.size() && head < after.size() && before[head]->id == after[head]->id) {
    if (before[head] != after[head]) markDifference(*before[head], *after[head], marks);
    ++head;
  }
  size_t tail = 0;
  while (tail + head < before.size() && tail + head < after.size() &&
         before[before.size() - 1 - tail]->id == after[after.size() - 1 - tail]->id) {
    const Layer &a = *before[before.size() - 1 - tail], &b = *after[after.size() - 1 - tail];
    if (&a != &b) markDifference(a, b, marks);
    ++tail;
  }
  for (size_t i = head; i + tail < before.size(); ++i) markContent(*before[i], marks);
  for (size_t i = head; i + tail < after.size(); ++i) markContent(*after[i], marks);
  std::vector<uint32_t> chunks;
  for (uint32_t i = 0; i < marks.size(); ++i)
    if (marks[i]) chunks.push_back(i);
  return chunks;
}

void updateComposite(ColorField& composite, const LayerStack& layers, const Surface& surface,
                     const EncodedColor& bare, std::span<const uint32_t> chunks) {
  tbb::parallel_for(size_t{0}, chunks.size(), [&](size_t i) {
    composite.setChunk(chunks[i], compositeChunk(layers, surface, bare, chunks[i]));
  });
}

ColorField compositeOf(const LayerStack& layers, const Surface& surface, const EncodedColor& bare) {
  ColorField composite(surface.size());
  std::vector<uint32_t> all(composite.chunkCount());
  std::iota(all.begin(), all.end(), 0);
  updateComposite(composite, layers, surface, bare, all);
  return composite;
}

}  // namespace juvenor
