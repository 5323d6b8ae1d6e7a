#include "batch/script_carry.h"

#include "batch/script_lookup.h"
#include "core/carry/carry_json.h"
#include "core/carry/part_back.h"
#include "core/carry/rest_from_sculpt.h"
#include "core/carry/twin.h"
#include "core/document/edits/edits.h"
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

// What both ways of copying are told alike.
JsonFields& copyFields(JsonFields& fields, CopySetting& out, const json*& layers) {
  return fields.flag("paint", out.paint)
      .flag("masks", out.masks)
      .number("vary", out.vary, 0, 1e9f)
      .whole("seed", out.seed)
      .list("layers", layers);
}

// The layers a step names, none when it names none.
Outcome readLayers(const json* list, const Document& d, CopySetting& out) {
  if (!list) return Done{};
  for (const json& name : *list) {
    const auto layer = layerFor({{"layer", name}}, d);
    if (!layer) return layer.error();
    out.layers.push_back(*layer);
  }
  return Done{};
}

Result<Document> copyToTwin(const json& step, const Document& d) {
  std::string what;
  CopySetting setting;
  const json *list = nullptr, *part = nullptr, *twin = nullptr;
  bool mirrored = false;
  JsonFields fields(step);
  fields.text("do", what)
      .any("part", part)
      .any("twin", twin)
      .flag("mirrored", mirrored)
      .needs({"part", "twin"});
  Outcome ok = copyFields(fields, setting, list).done();
  if (ok) ok = readLayers(list, d, setting);
  if (!ok) return ok.error();
  const auto from = partNamed(*part, d), to = partNamed(*twin, d);
  if (!from) return from.error();
  if (!to) return to.error();
  const auto fit =
      twinFit(d, *from, *to, step.contains("mirrored") ? std::optional<bool>(mirrored) : std::nullopt);
  if (!fit) return fit.error();
  auto copied = copiedToTwin(d, *from, *to, *fit, setting);
  if (!copied) return copied.error();
  return std::move(copied->document);
}

Result<Document> otherSide(const json& step, const Document& d) {
  std::string what, from = "right", plane = "form";
  CopySetting setting;
  const json* list = nullptr;
  JsonFields fields(step);
  fields.text("do", what).text("from", from).text("plane", plane);
  Outcome ok = copyFields(fields, setting, list).done();
  if (ok) ok = readLayers(list, d, setting);
  if (!ok) return ok.error();
  // right and left as one sees them from the front
  if (from != "right" && from != "left") return Error{"copies \"from\" the \"right\" or the \"left\""};
  if (plane != "form" && plane != "x" && plane != "own")
    return Error{"has a plane that is neither \"form\", \"own\" nor \"x\""};
  MirrorPlane mirror;
  if (plane == "own") mirror = d.mirror;
  if (plane == "form") {
    const auto found = mirrorPlaneOf(d);
    if (!found) return found.error();
    mirror = found->plane;
  }
  auto copied = copiedToOtherSide(d, mirror, from == "right", setting);
  if (!copied) return copied.error();
  return std::move(copied->document);
}

Result<Document> mirrorPlane(const json& step, const Document& d) {
  std::string what;
  bool fit = false;
  MirrorPlane plane;
  const Outcome ok = JsonFields(step)
                         .text("do", what)
                         .flag("fit", fit)
                         .vector("normal", plane.normal)
                         .number("offset", plane.offset, -1e9f, 1e9f)
                         .done();
  if (!ok) return ok.error();
  if (fit && (step.contains("normal") || step.contains("offset")))
    return Error{"either fits the plane or says it"};
  if (fit) {
    const auto found = mirrorPlaneOf(d);
    if (!found) return found.error();
    plane = found->plane;
  } else {
    plane.normal = normalizedOr(plane.normal, Vec3::Zero());
  }
  return withMirrorPlane(d, plane);
}

Result<Document> restPoseOf(const json& step, const Document& d) {
  if (!step.contains("sculpt")) return withoutRestPose(d);
  std::string what, file;
  const Outcome ok = JsonFields(step).text("do", what).text("sculpt", file).done();
  if (!ok) return ok.error();
  const auto sculpt = readSculpt(file);
  if (!sculpt) return sculpt.error();
  return withRestFrom(d, *sculpt);
}

const ScriptCommand kCarryCommands[] = {
    {"carry over", {"sculpt", "pins", "parts", "checkpoints", "keep-lost", "reach"}, carryOver},
    {"parts back", {"sculpt", "as"}, partsBack},
    {"let parts go", {"parts"}, letPartsGo},
    {"copy to twin", {"part", "twin", "mirrored", "layers", "paint", "masks", "vary", "seed"}, copyToTwin},
    {"other side", {"from", "plane", "layers", "paint", "masks", "vary", "seed"}, otherSide},
    {"mirror plane", {"fit", "normal", "offset"}, mirrorPlane},
    {"rest pose", {"sculpt"}, restPoseOf}};

}  // namespace

std::span<const ScriptCommand> carryCommands() {
  return kCarryCommands;
}

}  // namespace juvenor::batch
