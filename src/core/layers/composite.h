// All layers as one opaque colour per sample, over the bare tone of the sculpt. Only chunks that changed are
// worked out again; what changed follows from comparing shared chunks, so undo and every edit are covered
// alike.
#pragma once

#include <vector>

#include "core/layers/layer.h"

namespace juvenor {

/// One chunk of the composite.
ColorField::Pointer compositeChunk(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                                   size_t index);

/// What one layer of the stack puts in a chunk by itself (premultiplied; null: nothing), over what lies below
/// it.
ColorField::Pointer ownChunk(const LayerStack& layers, uint32_t layer, SurfaceMaps& maps,
                             const EncodedColor& bare, size_t index);

/// Maps, masks and zones the visible layers need, worked out now with progress; else the composite does it.
Outcome prepareLayers(const LayerStack& layers, SurfaceMaps& maps, const Progress& progress = {});

/// The chunks whose composite may differ between two stacks on the same surface, ascending.
std::vector<uint32_t> changedChunks(const LayerStack& before, const LayerStack& after, SurfaceMaps& maps);

/// Works the listed chunks out again, on all cores.
void updateComposite(ColorField& composite, const LayerStack& layers, SurfaceMaps& maps,
                     const EncodedColor& bare, std::span<const uint32_t> chunks);

/// The whole composite.
ColorField compositeOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare);

/// A layer's painted mask and its mask from maps in one for a chunk; null where both show everything.
/// `room` holds the product when there are both.
const ScalarChunk* maskChunk(const Layer& layer, SurfaceMaps& maps, size_t index, ScalarChunk& room);

}  // namespace juvenor
