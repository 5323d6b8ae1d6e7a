// What a script's step names: a layer, a part, a colour.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace juvenor::batch {

/// The layer under a key, by name (the topmost of that name) or by id; the active one when nothing is said.
Result<uint32_t> layerFor(const nlohmann::json& step, const Document& document, const char* key = "layer");
Result<uint32_t> partNamed(const nlohmann::json& name, const Document& document);
/// The part a step names, kNone when it names none.
Result<uint32_t> partIn(const nlohmann::json& step, const Document& document);
/// The slide under a key, by name (the last of that name) or by id; the last one when nothing is said.
Result<uint32_t> slideFor(const nlohmann::json& step, const Document& document, const char* key = "slide");
/// The checkpoint under a key, the same way.
Result<uint32_t> checkpointFor(const nlohmann::json& step, const Document& document,
                               const char* key = "checkpoint");
/// The channels a list of their keys names.
Result<ChannelSet> channelSetIn(const nlohmann::json& list);
/// A source of a kind from those of the step's keys that are its parameters.
Result<SourcePointer> sourceIn(const nlohmann::json& step, const SourceKind& kind, const Document& document);
/// How a sculpt is to stand, as said in words: axes, and a unit or the height of the figure in centimetres.
/// What is empty or 0 stays.
struct PlacementSaid {
  std::string up, front, unit;
  float height = 0;
};
Result<Placement> placementFrom(const PlacementSaid& said, const Placement& usual, const Surface& surface);
Result<Document> withPlacementSaid(const Document& document, const PlacementSaid& said);
/// What a step says of the channels: "color", "gloss", "metal", "relief"; one at least.
Result<ChannelValues> valuesIn(const nlohmann::json& step);
/// The same of a value: a colour, or an object of those keys.
Result<ChannelValues> valuesOf(const nlohmann::json& value);
/// An error for a key of the step, "do" aside, that is not among these.
Outcome onlyKnownKeys(const nlohmann::json& step, std::span<const std::string_view> known);

}  // namespace juvenor::batch
