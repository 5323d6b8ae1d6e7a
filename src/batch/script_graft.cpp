#include "batch/script_graft.h"

#include "batch/script_lookup.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/lay_graft.h"
#include "core/document/edits/place_stamp.h"
#include "core/graft/graft_file.h"
#include "core/json_fields.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Result<SurfacePoint> skinAt(const json& said, const Document& d, float reach) {
  const auto at = vectorFromJson(said);
  if (!at) return Error{"a place is [x, y, z]"};
  const auto rays = d.maps->rays();
  if (!rays) return rays.error();
  auto place = (*rays)->nearest(*at, reach);
  if (!place) return Error{"nothing lies near " + textOf(said)};
  place->toViewer = place->normal;
  return *place;
}

Result<std::vector<SurfacePoint>> skinAlong(const json& said, const Document& d, float reach) {
  if (!said.is_array()) return Error{"a line is a list of places"};
  std::vector<SurfacePoint> out;
  for (const json& p : said) {
    const auto at = skinAt(p, d, reach);
    if (!at) return at.error();
    out.push_back(*at);
  }
  return out;
}

// "rectangle": {at, along, size: [w, h]}, "strip": {line, width} or "lasso": {loop, along}.
Result<PatchShape> shapeIn(const json& step, const Document& d) {
  const float reach = 0.1f * d.surface->bounds.diagonal();
  Vec3 along = Vec3::UnitX();
  if (step.contains("rectangle")) {
    PatchRectangle out;
    const json *at = nullptr, *size = nullptr;
    const Outcome ok = JsonFields(step["rectangle"])
                           .any("at", at)
                           .vector("along", along)
                           .list("size", size)
                           .needs({"at", "size"})
                           .done();
    if (!ok) return Error{"\"rectangle\" " + ok.error().what};
    const auto place = skinAt(*at, d, reach);
    if (!place) return place.error();
    const auto w = size->size() == 2 ? numberFromJson((*size)[0]) : std::nullopt,
               h = size->size() == 2 ? numberFromJson((*size)[1]) : std::nullopt;
    if (!w || !h) return Error{"\"size\" is [width, height] in scene units"};
    out.at = *place;
    out.along = along;
    out.half = 0.5f * Vec2(*w, *h);
    return PatchShape(out);
  }
  if (step.contains("strip")) {
    PatchStrip out;
    const json* line = nullptr;
    float width = 0;
    const Outcome ok = JsonFields(step["strip"])
                           .list("line", line)
                           .number("width", width, 0, 1e6f)
                           .needs({"line", "width"})
                           .done();
    if (!ok) return Error{"\"strip\" " + ok.error().what};
    const auto places = skinAlong(*line, d, reach);
    if (!places) return places.error();
    if (places->empty()) return Error{"a strip needs a line"};
    for (const SurfacePoint& p : *places) out.line.push_back(p.position);
    out.part = places->front().part;
    out.half = 0.5f * width;
    return PatchShape(out);
  }
  if (!step.contains("lasso")) return Error{"needs a \"rectangle\", a \"strip\" or a \"lasso\""};
  PatchLasso out;
  const json* loop = nullptr;
  const Outcome ok =
      JsonFields(step["lasso"]).list("loop", loop).vector("along", out.along).needs({"loop"}).done();
  if (!ok) return Error{"\"lasso\" " + ok.error().what};
  auto places = skinAlong(*loop, d, reach);
  if (!places) return places.error();
  out.loop = std::move(*places);
  return PatchShape(out);
}

Result<GraftSkin> skinIn(const json& step, const Document& d) {
  if (!step.contains("checkpoint")) return graftSkinOf(d);
  const auto before = checkpointFor(step, d);
  if (!before) return before.error();
  uint32_t after = 0;
  if (step.contains("against")) {
    const auto other = checkpointFor(step, d, "against");
    if (!other) return other.error();
    after = *other;
  }
  return graftSkinBetween(d, *before, after);
}

Result<Document> takeGraft(const json& step, const Document& d) {
  GraftTake take;
  take.millimetres = d.placement.millimetres;
  std::string file, name;
  const json *rectangle, *strip, *lasso, *channels = nullptr, *other;
  uint32_t pixels = static_cast<uint32_t>(take.pixels);
  const Outcome ok = JsonFields(step)
                         .any("do", other)
                         .any("rectangle", rectangle)
                         .any("strip", strip)
                         .any("lasso", lasso)
                         .any("checkpoint", other)
                         .any("against", other)
                         .any("channels", channels)
                         .text("file", file)
                         .text("name", name)
                         .whole("pixels", pixels)
                         .number("cut", take.cut, 0, 1e6f)
                         .number("feather", take.feather, 0, 0.5f)
                         .flag("form", take.form)
                         .needs({"file"})
                         .done();
  if (!ok) return ok.error();
  if (pixels > kLargestGraft) return Error{"\"pixels\" is 128 to 2048"};
  take.pixels = static_cast<int>(pixels);
  if (channels) {
    const auto said = channelSetIn(*channels);
    if (!said) return said.error();
    take.channels = *said;
  }
  const auto shape = shapeIn(step, d);
  if (!shape) return shape.error();
  const auto skin = skinIn(step, d);
  if (!skin) return skin.error();
  const std::filesystem::path path = file;
  const auto graft = takenGraft(*d.surface, *skin, *shape, take, name.empty() ? path.stem().string() : name);
  if (!graft) return graft.error();
  if (const Outcome written = writeGraft(*graft, path); !written) return written.error();
  return d;
}

// At one place, or along a line.
Result<Document> layGraft(const json& step, const Document& d) {
  const auto graft = readGraft(step.value("file", ""));
  if (!graft) return graft.error();
  const auto layer = layerFor(step, d);
  if (!layer) return layer.error();
  GraftLaying laying;
  laying.layer = *layer;
  laying.adapts = step.value("adapt", false);
  if (step.contains("channels")) {
    const auto said = channelSetIn(step["channels"]);
    if (!said) return said.error();
    laying.channels = *said;
  }
  if (step.contains("strength")) {
    const auto strength = numberFromJson(step["strength"]);
    if (!strength || *strength < 0 || *strength > 1) return Error{"\"strength\" is a number from 0 to 1"};
    laying.strength = *strength;
  }
  auto setting = layingOf(*graft, d, laying);
  if (!setting) return setting.error();
  if (step.contains("size")) {
    const auto size = numberFromJson(step["size"]);
    if (!size || !(*size > 0)) return Error{"\"size\" is a length in scene units"};
    setting->brush.radius = 0.5f * *size;
  }
  const float reach = 2 * setting->brush.radius;
  Flood flood;
  if (step.contains("points")) {
    const auto line = skinAlong(step["points"], d, reach);
    if (!line) return line.error();
    return withStrokeAlong(d, *setting, *line, 1, flood);
  }
  const auto place = skinAt(step.value("at", json()), d, reach);
  if (!place) return place.error();
  const auto along =
      step.contains("along") ? vectorFromJson(step["along"]) : std::optional(Vec3(Vec3::UnitX()));
  if (!along) return Error{"\"along\" is a direction"};
  return withStampPlaced(d, *setting, *place, *along, setting->brush.radius, flood);
}

const ScriptCommand kGraftCommands[] = {
    {"graft take",
     {"file", "name", "rectangle", "strip", "lasso", "pixels", "cut", "feather", "form", "channels",
      "checkpoint", "against"},
     takeGraft,
     true},
    {"graft lay",
     {"file", "layer", "at", "along", "points", "size", "channels", "strength", "adapt"},
     layGraft},
};

}  // namespace

std::span<const ScriptCommand> graftCommands() {
  return kGraftCommands;
}

}  // namespace juvenor::batch
