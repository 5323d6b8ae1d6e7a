// Everything of a document but its chunks and its shape, as JSON: what a step in the file holds in its column
// `state`.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace juvenor {

nlohmann::json stateOf(const Document& document);

/// Layers get empty fields; the reader of the file fills in the chunks. Board pictures get no data yet.
/// `sculpt`, `surface` and `maps` are left unset, sizes are taken from `samples`.
Result<Document> documentFromState(const nlohmann::json& state, size_t samples);

/// The refinements alone, which the reader needs before it knows the number of samples.
std::vector<Refinement> refinementsOfState(const nlohmann::json& state);

nlohmann::json toJson(const EncodedColor& color);
std::optional<EncodedColor> colorFromJson(const nlohmann::json& json);

}  // namespace juvenor
