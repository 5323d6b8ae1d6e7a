#include "batch/script_groups.h"

#include "batch/script_lookup.h"
#include "core/document/edits/edit_groups.h"
#include "core/json_fields.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// Those a step names as "layers"; the active one when it names none.
Result<std::vector<uint32_t>> layersIn(const json& step, const Document& d) {
  std::vector<uint32_t> out;
  if (!step.contains("layers")) {
    const auto id = layerFor(step, d);
    if (!id) return id.error();
    return std::vector<uint32_t>{*id};
  }
  if (!step["layers"].is_array()) return Error{"\"layers\" is a list"};
  for (const json& name : step["layers"]) {
    const auto id = layerFor({{"layer", name}}, d);
    if (!id) return id.error();
    out.push_back(*id);
  }
  return out;
}

Result<Document> group(const json& step, const Document& d) {
  const auto ids = layersIn(step, d);
  if (!ids) return ids.error();
  return withGroup(d, *ids, step.value("name", "Group"));
}

Result<Document> ungroup(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  return withoutGroup(d, *id);
}

// Without "from" it shows everywhere again.
Result<Document> liveMask(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  if (!step.contains("from")) return withMaskFrom(d, *id, 0);
  const auto from = layerFor(step, d, "from");
  if (!from) return from.error();
  return withMaskFrom(d, *id, *from);
}

Result<Document> moveMask(const json& step, const Document& d) {
  const auto id = layerFor(step, d), from = layerFor(step, d, "from");
  if (!id) return id.error();
  if (!from) return from.error();
  return withMovedMask(d, *from, *id);
}

Result<Document> maskSteps(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  auto steps = maskStepsFrom(step.value("steps", json::array()));
  if (!steps) return steps.error();
  return withMaskSteps(d, *id, std::move(*steps));
}

Result<Document> merge(const json& step, const Document& d) {
  const auto ids = layersIn(step, d);
  if (!ids) return ids.error();
  return withMerged(d, *ids);
}

Result<Document> mergeVisible(const json& step, const Document& d) {
  return withMergedVisible(d, step.value("name", "Merged"));
}

const ScriptCommand kGroupCommands[] = {
    {"group", {"layers", "name"}, group},          {"ungroup", {"layer"}, ungroup},
    {"live mask", {"layer", "from"}, liveMask},    {"move mask", {"layer", "from"}, moveMask},
    {"mask steps", {"layer", "steps"}, maskSteps}, {"merge", {"layers"}, merge},
    {"merge visible", {"name"}, mergeVisible},
};

}  // namespace

std::span<const ScriptCommand> groupCommands() {
  return kGroupCommands;
}

}  // namespace juvenor::batch
