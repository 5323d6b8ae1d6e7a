// Edits of checkpoints, and bringing back what they hold.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// The checkpoint with this number, or null.
const Checkpoint* checkpointOf(const Document& document, uint32_t id);

/// Keeps the layers as they are now. `time` as in Checkpoint.
Result<Document> withCheckpoint(const Document& document, std::string name, int64_t time);
/// Keeps the layers of a later step as a checkpoint of `document`. Both must have the same points.
Result<Document> withLaterKept(const Document& document, const Document& later, std::string name,
                               int64_t time);
Result<Document> withoutCheckpoint(const Document& document, uint32_t id);
Result<Document> withCheckpointNamed(const Document& document, uint32_t id, std::string name);

/// All layers as they were kept, in place of those there are; checkpoints stay. Layers get the numbers they
/// had.
Result<Document> withCheckpointBack(const Document& document, uint32_t id);
/// One layer as it was kept, as a new one over the active one. `kept` is its number among the checkpoint's.
Result<Document> withKeptLayer(const Document& document, uint32_t id, uint32_t kept);
/// Moves channels of a painted layer by `strength` (0…1) of the way to what they were; what the guard
/// protects stays. Where the layer was not there yet it held nothing.
Result<Document> withRestored(const Document& document, uint32_t id, uint32_t layer, ChannelSet channels,
                              float strength);

/// The fields a painted layer had then, empty ones when it was not there; an error when it was worked out
/// then and has nothing to paint back from.
Result<ChannelFields> fieldsKeptOf(const Document& document, uint32_t id, uint32_t layer);
/// The painted mask it had; open when it had none.
Result<ScalarField> maskKeptOf(const Document& document, uint32_t id, uint32_t layer);

/// The document as its layers looked then, for showing; no step of the work.
Result<Document> asKept(const Document& document, uint32_t id);

}  // namespace juvenor
