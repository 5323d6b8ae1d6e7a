#include "batch/script_show.h"

#include <fmt/format.h>

#include "core/document/edits/edit_cameras.h"
#include "core/document/edits/edit_variants.h"
#include "core/json_fields.h"
#include "core/render/still.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// Empty where the step has none.
Result<std::string> nameIn(const json& step, const char* key) {
  if (!step.contains(key)) return std::string();
  if (step[key].is_string()) return step[key].get<std::string>();
  return Error{fmt::format("\"{}\" is a name", key)};
}

Result<uint32_t> cameraFor(const json& step, const Document& d) {
  const auto name = nameIn(step, "camera");
  if (!name) return name.error();
  if (const KeptCamera* camera = cameraNamed(d, *name)) return camera->id;
  return Error{fmt::format("there is no camera “{}”", *name)};
}

Result<uint32_t> variantFor(const json& step, const Document& d) {
  const auto name = nameIn(step, "variant");
  if (!name) return name.error();
  if (const Variant* variant = variantNamed(d, *name)) return variant->id;
  return Error{fmt::format("there is no variant “{}”", *name)};
}

// What a step says of a look: as files have it, or all of the figure from the front and turned.
Result<Look> lookIn(const json& step, const Document& d) {
  Look out;
  if (step.contains("look")) {
    auto said = juvenor::lookFrom(step["look"]);
    if (!said) return said.error();
    out = std::move(*said);
  }
  if (step.contains("look") && step["look"].contains("camera")) return out;
  const auto number = [&](const char* key, float usual) -> Result<float> {
    if (!step.contains(key)) return usual;
    if (const auto value = numberFromJson(step[key])) return *value;
    return Error{fmt::format("\"{}\" is a number", key)};
  };
  const auto turn = number("turn", 0), tilt = number("tilt", 0), nearer = number("nearer", 1);
  for (const auto* said : {&turn, &tilt, &nearer})
    if (!*said) return said->error();
  if (!(*nearer > 0)) return Error{"\"nearer\" is above 0"};
  out.camera = turned(out.camera, Vec2(*turn, *tilt) / kDegreesPerPixel);
  // as stills are cut as a rule
  out.camera = framed(out.camera, {16, 9}, shownPoints(d));
  out.camera.distance /= *nearer;
  return out;
}

Result<Document> keepCamera(const json& step, const Document& d) {
  auto look = lookIn(step, d);
  if (!look) return look.error();
  const auto name = nameIn(step, "name");
  if (!name) return name.error();
  if (!step.contains("camera")) return withCamera(d, *name, *look);
  const auto id = cameraFor(step, d);
  if (!id) return id.error();
  auto out = withCameraReplaced(d, *id, *look);
  if (!out || !step.contains("name")) return out;
  return withCameraNamed(*out, *id, *name);
}

Result<Document> forgetCamera(const json& step, const Document& d) {
  const auto id = cameraFor(step, d);
  if (!id) return id.error();
  return withoutCamera(d, *id);
}

Result<Document> keepVariant(const json& step, const Document& d) {
  const auto name = nameIn(step, "name");
  if (!name) return name.error();
  if (!step.contains("variant")) return withVariant(d, *name);
  const auto id = variantFor(step, d);
  if (!id) return id.error();
  auto out = withVariantReplaced(d, *id);
  if (!out || !step.contains("name")) return out;
  return withVariantNamed(*out, *id, *name);
}

Result<Document> showVariant(const json& step, const Document& d) {
  const auto id = variantFor(step, d);
  if (!id) return id.error();
  return asVariant(d, *id);
}

Result<Document> forgetVariant(const json& step, const Document& d) {
  const auto id = variantFor(step, d);
  if (!id) return id.error();
  return withoutVariant(d, *id);
}

const ScriptCommand kShowCommands[] = {
    {"camera", {"name", "camera", "look", "turn", "tilt", "nearer"}, keepCamera},
    {"delete camera", {"camera"}, forgetCamera},
    {"variant", {"name", "variant"}, keepVariant},
    {"show variant", {"variant"}, showVariant},
    {"delete variant", {"variant"}, forgetVariant},
};

}  // namespace

std::span<const ScriptCommand> showCommands() {
  return kShowCommands;
}

}  // namespace juvenor::batch
