#include "core/document/edits/share_again.h"

#include <map>
#include <ranges>

#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

template <int P>
void shareChunks(Field<P>& field, const Field<P>& other) {
  if (field.size() != other.size()) return;
  for (size_t i = 0; i < field.chunkCount(); ++i) {
    const auto &mine = field.chunk(i), &theirs = other.chunk(i);
    if (mine && theirs && mine != theirs && mine->plane == theirs->plane) field.setChunk(i, theirs);
  }
}

// A layer with the chunks of another wherever they hold the same.
Layer sharing(Layer layer, const Layer& other) {
  const ChannelFields *mine = layer.source->fields(), *theirs = other.source->fields();
  if (mine && theirs && mine != theirs) {
    ChannelFields fields = *mine;
    eachChannel([&](auto c) { shareChunks(fields.get<c()>(), theirs->get<c()>()); });
    layer.source = paintedSource(std::move(fields));
  }
  if (layer.mask && other.mask) shareChunks(*layer.mask, *other.mask);
  return layer;
}

}  // namespace

void shareAgain(Document& document) {
  std::map<uint32_t, LayerPointer> newest;  // by the layer they were kept of
  for (const LayerPointer& layer : document.layers) newest[layer->id] = layer;
  for (Checkpoint& checkpoint : std::views::reverse(document.checkpoints))
    for (size_t i = 0; i < checkpoint.layers.size(); ++i) {
      LayerPointer& kept = checkpoint.layers[i];
      LayerPointer& near = newest[checkpoint.of[i]];
      if (near) kept = std::make_shared<Layer>(sharing(*kept, *near));
      near = kept;
    }
}

}  // namespace juvenor
