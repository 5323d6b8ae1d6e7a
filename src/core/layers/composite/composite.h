// All layers as one skin: an opaque colour per sample over the bare tone of the sculpt, and the other
// channels over what bare skin has. Only chunks that changed are worked out again, and of them only the
// channels that did; what changed follows from comparing shared chunks, so undo and every edit are covered
// alike.
#pragma once

#include <functional>
#include <span>
#include <vector>

#include "core/layers/prepared_layer.h"

namespace juvenor {

/// One chunk of a channel of the composite; null where nothing but bare skin is (never of colour).
template <Channel C>
typename ChannelField<C>::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare,
                                                 size_t index);
/// Of colour.
ColorField::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index);

/// What one layer of the stack puts in a chunk by itself (premultiplied; null: nothing), over what lies below
/// it.
ColorField::Pointer ownChunk(const PreparedStack& stack, uint32_t layer, const EncodedColor& bare,
                             size_t index);
/// The same of one channel, asking nothing of what lies below; null for what needs that.
template <Channel C>
typename ChannelField<C>::Pointer ownChunk(const PreparedLayer& layer, size_t index);

/// Colours for every layer, from the bottom: `take(layer, its own chunk or null)`.
void eachOwnChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index,
                  const std::function<void(const PreparedLayer&, const ColorField::Pointer&)>& take);

/// The channels that some layer of the stack shows.
ChannelSet channelsOf(const PreparedStack& stack);

/// The chunks where a channel of the composite may differ between two stacks on the same surface, ascending.
std::vector<uint32_t> changedChunks(const PreparedStack& before, const PreparedStack& after, size_t samples,
                                    Channel channel = Channel::Color);

/// What the skin reads where a channel was not composited yet or nothing covers it.
ChannelFields bareSkin(size_t samples);

/// Works the listed chunks out again, on all cores.
void updateComposite(ColorField& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks);
/// The same of some channels.
void updateComposite(ChannelFields& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks, ChannelSet channels);

/// What a layer or group brings by itself in the listed chunks, with its mask and as strongly as it shows:
/// colours over `ground`, all else over what bare skin has.
void updateContribution(ChannelFields& out, const PreparedStack& stack, uint32_t layer,
                        const EncodedColor& bare, const EncodedColor& ground,
                        std::span<const uint32_t> chunks);

class KeptChunks;
/// The same while one layer is painted on, with what is kept of all else: as it came out before, to the bit.
void updateComposite(ChannelFields& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks, ChannelSet channels, KeptChunks& kept);

/// The whole colour of a stack on a surface with so many samples.
ColorField compositeOf(const PreparedStack& stack, size_t samples, const EncodedColor& bare);
/// The same of layers worked out now; an error when one cannot be.
Result<ColorField> compositeOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                               const Progress& progress = {});
/// All channels.
ChannelFields skinOf(const PreparedStack& stack, size_t samples, const EncodedColor& bare);
Result<ChannelFields> skinOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                             const Progress& progress = {});

}  // namespace juvenor
