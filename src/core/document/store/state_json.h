// Everything of a document but its chunks and its shape, as JSON: what a step in the file holds in its column
// `state`.
#pragma once

#include <functional>
#include <nlohmann/json.hpp>

#include "core/document/surface_state.h"

namespace juvenor {

/// The format of documents this version writes; docs/file-format.md tells what each brought.
inline constexpr int kDocumentFormat = 15;

nlohmann::json stateOf(const Document& document);

/// One layer as a state holds it; painted ones without their chunks.
nlohmann::json layerState(const Layer& layer);
/// The error names the layer and says what is wrong.
Result<LayerPointer> layerFromState(const nlohmann::json& state, size_t samples);

/// How the layers and checkpoints of a state are read where it only names them.
struct PieceReader {
  /// What stands for a checkpoint; it stays while the reader does.
  std::function<Result<const nlohmann::json*>(const nlohmann::json& said)> whole;
  /// Painted ones with empty fields.
  std::function<Result<LayerPointer>(const nlohmann::json& said, size_t samples)> layer;
};
/// Of states that hold them whole, as `stateOf` gives them.
PieceReader wholePieces();

/// Every value is checked: what comes back keeps all rules of a document. Layers get empty fields; the reader
/// of the file fills in the chunks. Pictures and UV sets get no data yet. `sculpt`, `surface` and `maps` are
/// left unset, sizes are taken from `samples`. States of older formats are brought up to date.
Result<Document> documentFromState(const nlohmann::json& state, size_t samples, int format = kDocumentFormat,
                                   const PieceReader& pieces = wholePieces());

/// The state of an older format as this version would have written it.
nlohmann::json broughtUpToDate(nlohmann::json state, int format);

/// Scene units between two heights; 0 where a step of a format before 4 does not say.
Result<float> reliefStepOfState(const nlohmann::json& state);

}  // namespace juvenor
