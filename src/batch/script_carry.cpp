#include "batch/script_carry.h"

#include "batch/script_lookup.h"
#include "core/carry/carry_json.h"
#include "core/carry/part_back.h"
#include "core/json_fields.h"
#include "core/sculpt/formats.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// The rest of a step is what a file of pins holds.
json withoutKeys(json step, std::initializer_list<const char*> keys) {
  for (const char* key : keys) step.erase(key);
  return step;
}

Result<Document> carryOver(const json& step, const Document& d) {
  std::string file;
  if (step.contains("sculpt") && step["sculpt"].is_string()) file = step["sculpt"];
  if (file.empty()) return Error{"needs the file of a sculpt as \"sculpt\""};
  auto sculpt = readSculpt(file);
  if (!sculpt) return sculpt.error();
  const auto setting = carrySettingFrom(withoutKeys(step, {"do", "sculpt"}), *d.sculpt, *sculpt);
  if (!setting) return setting.error();
  auto carried = carriedOver(d, std::make_shared<const Sculpt>(std::move(*sculpt)), *setting);
  if (!carried) return carried.error();
  return std::move(carried->document);
}

Result<Document> partsBack(const json& step, const Document& d) {
  std::string what, file, as;
  const Outcome ok =
      JsonFields(step).text("do", what).text("sculpt", file).text("as", as).needs({"sculpt"}).done();
  if (!ok) return ok.error();
  const auto sculpt = readSculpt(file);
  if (!sculpt) return sculpt.error();
  auto carried = withPartsBack(d, *sculpt, as);
  if (!carried) return carried.error();
  return std::move(carried->document);
}

Result<Document> letPartsGo(const json& step, const Document& d) {
  std::string what;
  const json* list = nullptr;
  const Outcome ok = JsonFields(step).text("do", what).list("parts", list).needs({"parts"}).done();
  if (!ok) return ok.error();
  std::set<uint32_t> parts;
  for (const json& name : *list) {
    const auto part = partNamed(name, d);
    if (!part) return part.error();
    parts.insert(*part);
  }
  auto carried = withoutParts(d, parts);
  if (!carried) return carried.error();
  return std::move(carried->document);
}

const ScriptCommand kCarryCommands[] = {
    {"carry over", {"sculpt", "pins", "parts", "checkpoints", "keep-lost", "reach"}, carryOver},
    {"parts back", {"sculpt", "as"}, partsBack},
    {"let parts go", {"parts"}, letPartsGo}};

}  // namespace

std::span<const ScriptCommand> carryCommands() {
  return kCarryCommands;
}

}  // namespace juvenor::batch
