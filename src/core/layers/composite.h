// All layers as one opaque colour per sample, over the bare tone of the sculpt. Only chunks that changed are
// worked out again; what changed follows from comparing shared chunks, so undo and every edit are covered
// alike.
#pragma once

#include <vector>

#include "core/layers/layer.h"

namespace juvenor {

/// One chunk of the composite.
ColorField::Pointer compositeChunk(const LayerStack& layers, const Surface& surface, const EncodedColor& bare,
                                   size_t index);

/// The chunks whose composite may differ between two stacks on surfaces of the same size, ascending.
std::vector<uint32_t> changedChunks(const LayerStack& before, const LayerStack& after, size_t samples);

/// Works the listed chunks out again, on all cores.
void updateComposite(ColorField& composite, const LayerStack& layers, const Surface& surface,
                     const EncodedColor& bare, std::span<const uint32_t> chunks);

/// The whole composite.
ColorField compositeOf(const LayerStack& layers, const Surface& surface, const EncodedColor& bare);

}  // namespace juvenor
