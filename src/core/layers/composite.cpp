#include "core/layers/composite.h"

#include <tbb/parallel_for.h>

#include <numeric>

#include "core/layers/blend_chunk.h"

namespace juvenor {
namespace {

ColorChunk bareChunk(const EncodedColor& bare) {
  ColorChunk out;
  const Rgba16 tone = opaque16(bare);
  out.plane[0].fill(tone.r);
  out.plane[1].fill(tone.g);
  out.plane[2].fill(tone.b);
  out.plane[3].fill(tone.a);
  return out;
}

bool shows(const PreparedLayer& p) {
  return p.source && contributes(*p.layer);
}

void putOn(const PreparedLayer& p, const ColorField::Pointer& source, size_t index, ColorChunk& out) {
  if (!source || !shows(p)) return;
  ScalarChunk scratch;
  blendChunk(p.layer->blend, out, *source, maskChunk(p, index, scratch), p.layer->opacity);
}

void putOn(const PreparedLayer& p, size_t index, ColorChunk& out) {
  if (shows(p)) putOn(p, p.source->chunk(index, out), index, out);
}

// Whether a property that works everywhere differs.
bool changedThroughout(const PreparedLayer& a, const PreparedLayer& b) {
  return shows(a) != shows(b) || a.layer->blend != b.layer->blend || a.layer->opacity != b.layer->opacity ||
         a.layer->mask.has_value() != b.layer->mask.has_value() || a.maps != b.maps;
}

// The same layer differs from itself when it was waiting before.
bool differ(const PreparedLayer& a, const PreparedLayer& b) {
  return a.layer != b.layer || a.source != b.source || a.maps != b.maps;
}

void markContent(const PreparedLayer& p, std::vector<char>& marks) {
  if (shows(p)) p.source->markContent(marks);
}

bool markSource(const PreparedLayer& a, const PreparedLayer& b, std::vector<char>& marks) {
  if (a.source == b.source || !shows(b)) return true;
  return &a.layer->source->kind() == &b.layer->source->kind() && b.source->markChanges(*a.source, marks);
}

void markDifference(const PreparedLayer& a, const PreparedLayer& b, std::vector<char>& marks) {
  if (changedThroughout(a, b) || !markSource(a, b, marks)) {
    markContent(a, marks);
    markContent(b, marks);
    return;
  }
  if (!shows(a) || !a.layer->mask || !b.layer->mask) return;
  for (size_t i = 0; i < marks.size(); ++i)
    if (a.layer->mask->chunk(i) != b.layer->mask->chunk(i)) marks[i] = 1;
}

}  // namespace

ColorField::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index) {
  auto out = std::make_shared<ColorChunk>(bareChunk(bare));
  for (const PreparedLayer& p : stack) putOn(p, index, *out);
  return out;
}

ColorField::Pointer ownChunk(const PreparedStack& stack, uint32_t layer, const EncodedColor& bare,
                             size_t index) {
  ColorChunk below = bareChunk(bare);
  for (const PreparedLayer& p : stack) {
    if (p.layer->id == layer) return p.source ? p.source->chunk(index, below) : nullptr;
    putOn(p, index, below);
  }
  return nullptr;
}

void eachOwnChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index,
                  const std::function<void(const PreparedLayer&, const ColorField::Pointer&)>& take) {
  ColorChunk below = bareChunk(bare);
  for (const PreparedLayer& p : stack) {
    const ColorField::Pointer own = p.source ? p.source->chunk(index, below) : nullptr;
    take(p, own);
    putOn(p, own, index, below);
  }
}

std::vector<uint32_t> changedChunks(const PreparedStack& before, const PreparedStack& after, size_t samples) {
  std::vector<char> marks(chunkCount(samples), 0);
  // The same layers in the same order can be compared one by one; otherwise the ends that agree are left out.
  size_t head = 0;
  while (head < before.size() && head < after.size() && before[head].layer->id == after[head].layer->id) {
    if (differ(before[head], after[head])) markDifference(before[head], after[head], marks);
    ++head;
  }
  size_t tail = 0;
  while (tail + head < before.size() && tail + head < after.size() &&
         before[before.size() - 1 - tail].layer->id == after[after.size() - 1 - tail].layer->id) {
    const PreparedLayer &a = before[before.size() - 1 - tail], &b = after[after.size() - 1 - tail];
    if (differ(a, b)) markDifference(a, b, marks);
    ++tail;
  }
  for (size_t i = head; i + tail < before.size(); ++i) markContent(before[i], marks);
  for (size_t i = head; i + tail < after.size(); ++i) markContent(after[i], marks);
  std::vector<uint32_t> chunks;
  for (uint32_t i = 0; i < marks.size(); ++i)
    if (marks[i]) chunks.push_back(i);
  return chunks;
}

void updateComposite(ColorField& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks) {
  tbb::parallel_for(size_t{0}, chunks.size(),
                    [&](size_t i) { composite.setChunk(chunks[i], compositeChunk(stack, bare, chunks[i])); });
}

ColorField compositeOf(const PreparedStack& stack, size_t samples, const EncodedColor& bare) {
  ColorField composite(samples);
  std::vector<uint32_t> all(composite.chunkCount());
  std::iota(all.begin(), all.end(), 0);
  updateComposite(composite, stack, bare, all);
  return composite;
}

Result<ColorField> compositeOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                               const Progress& progress) {
  const auto stack = prepared(layers, maps, progress);
  if (!stack) return stack.error();
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  return compositeOf(*stack, maps.size(), bare);
}

}  // namespace juvenor
