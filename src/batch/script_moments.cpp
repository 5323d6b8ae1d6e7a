#include "batch/script_moments.h"

#include "batch/script_lookup.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/history.h"
#include "core/json_fields.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Result<Document> keep(const json& step, const Document& d) {
  return withCheckpoint(d, step.value("name", "Checkpoint"), timeNow());
}

Result<Document> forget(const json& step, const Document& d) {
  const auto id = checkpointFor(step, d);
  if (!id) return id.error();
  return withoutCheckpoint(d, *id);
}

// Without a layer all of the work as it was; of a layer the channels that are told, or "whole" as a new
// layer.
Result<Document> restore(const json& step, const Document& d) {
  const auto id = checkpointFor(step, d);
  if (!id) return id.error();
  if (!step.contains("layer")) {
    if (step.contains("channels") || step.contains("strength"))
      return Error{"needs a \"layer\" for channels or a strength"};
    return withCheckpointBack(d, *id);
  }
  if (step.value("whole", false)) {
    // by its name then: it may be gone from the work
    for (const LayerPointer& kept : checkpointOf(d, *id)->layers)
      if (step["layer"] == json(kept->name)) return withKeptLayer(d, *id, kept->id);
    return Error{"the checkpoint has no layer " + textOf(step["layer"])};
  }
  const auto layer = layerFor(step, d);
  if (!layer) return layer.error();
  ChannelSet channels = ChannelSet::all();
  if (step.contains("channels")) {
    const auto said = channelSetIn(step["channels"]);
    if (!said) return said.error();
    channels = *said;
  }
  const auto strength = step.contains("strength") ? numberFromJson(step["strength"]) : std::optional(1.f);
  if (!strength || *strength < 0 || *strength > 1) return Error{"\"strength\" is a number from 0 to 1"};
  return withRestored(d, *id, *layer, channels, *strength);
}

const ScriptCommand kMomentCommands[] = {
    {"checkpoint", {"name"}, keep},
    {"delete checkpoint", {"checkpoint"}, forget},
    {"restore", {"checkpoint", "layer", "whole", "channels", "strength"}, restore},
};

}  // namespace

std::span<const ScriptCommand> momentCommands() {
  return kMomentCommands;
}

}  // namespace juvenor::batch
