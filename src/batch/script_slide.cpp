#include "batch/script_slide.h"

#include <fmt/format.h>

#include "batch/script_lookup.h"
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/tone_slides.h"
#include "core/json_fields.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/view/camera_json.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// "camera" in full, or "view": a side, turned and tilted by degrees; it frames the sculpt.
Result<Camera> cameraIn(const json& step, const Document& d, const ViewSize& size) {
  if (step.contains("camera")) {
    auto camera = cameraFromJson(step["camera"]);
    if (!camera) return Error{"has a camera that " + camera.error().what};
    return camera;
  }
  constexpr std::pair<std::string_view, Side> kSides[] = {{"front", Side::Front},
                                                          {"right", Side::Right},
                                                          {"left", Side::Left},
                                                          {"back", Side::Back},
                                                          {"top", Side::Top}};
  std::string from = "front";
  float turn = 0, tilt = 0, nearer = 1;
  const json said = step.value("view", json::object());
  const Outcome ok = JsonFields(said)
                         .text("from", from)
                         .number("turn", turn, -1e4f, 1e4f)
                         .number("tilt", tilt, -1e4f, 1e4f)
                         .number("nearer", nearer, 0.01f, 100)
                         .done();
  if (!ok) return Error{"has a view that " + ok.error().what};
  const auto* side = std::ranges::find(kSides, from, &std::pair<std::string_view, Side>::first);
  if (side == std::end(kSides)) return Error{"\"from\" is front, right, left, back or top"};
  Camera out = lookingFrom(Camera{}, side->second);
  out = turned(out, Vec2(turn, tilt) / kDegreesPerPixel);
  out = framed(out, size, d.surface->bounds);
  out.distance /= nearer;
  return out;
}

Outcome readPlacing(const json& step, Slide& slide) {
  json said = toJson(slide);
  for (const char* key : {"name", "middle", "half", "turn", "mirrored", "pins"})
    if (step.contains(key)) said[key] = step[key];
  for (const char* key : {"even", "broad", "highlights", "match"})
    if (step.contains(key)) said["tone"][key] = step[key];
  auto read = slideFromJson(said);
  if (!read) return read.error();
  read->picture = slide.picture;
  slide = std::move(*read);
  return Done{};
}

// What is worked out from the skin: the camera, the light, the tones.
Outcome workOut(const json& step, const Document& d, Slide& slide) {
  const auto keep = [&](Result<Slide> next) -> Outcome {
    if (!next) return next.error();
    slide = std::move(*next);
    return Done{};
  };
  if (step.value("solve", false))
    if (const Outcome ok = keep(withCameraSolved(slide)); !ok) return ok;
  if (step.value("fit light", false))
    if (const Outcome ok = keep(withLightFitted(d, slide)); !ok) return ok;
  if (!step.contains("match")) return Done{};
  TonesWanted wanted;
  if (step.contains("through")) {
    const auto layer = layerFor(step, d, "through");
    if (!layer) return layer.error();
    wanted = {*layer, step.value("zone", std::string())};
  }
  return keep(withTonesMatched(d, slide, wanted));
}

Result<Document> placeSlide(const json& step, const Document& d) {
  Slide slide;
  if (step.contains("file")) {
    const std::filesystem::path file = step.at("file").get<std::string>();
    auto picture = readPicture(file);
    if (!picture) return picture.error();
    const ViewSize size{(*picture)->width, (*picture)->height};
    const auto camera = cameraIn(step, d, size);
    if (!camera) return camera.error();
    slide = freshSlide(step.value("name", file.stem().string()), std::move(*picture), *camera);
  } else {
    const auto id = slideFor(step, d);
    if (!id) return id.error();
    slide = *slideOf(d, *id);
    if (step.contains("camera") || step.contains("view")) {
      const auto camera = cameraIn(step, d, {slide.picture->width, slide.picture->height});
      if (!camera) return camera.error();
      slide.camera = *camera;
    }
  }
  Outcome ok = readPlacing(step, slide);
  if (ok) ok = workOut(step, d, slide);
  if (!ok) return ok.error();
  return withSlide(d, std::move(slide));
}

Result<Document> throwSlide(const json& step, const Document& d) {
  const auto id = slideFor(step, d);
  if (!id) return id.error();
  std::optional<uint32_t> onto;
  if (step.contains("onto")) {
    const auto layer = layerFor(step, d, "onto");
    if (!layer) return layer.error();
    onto = *layer;
  }
  auto out = withThrow(d, *id, onto);
  if (!out) return out;
  const uint32_t layer = onto.value_or(out->activeLayer);
  const SourcePointer source = layerOf(*out, layer)->source;
  json parameters = source->parameters();
  for (const std::string_view key : source->kind().keys)
    if (key != "slides" && step.contains(key)) parameters[std::string(key)] = step[key];
  const auto read = makeSource(source->kind().key, parameters, d.surface->size());
  if (!read) return read.error();
  return withThrowSet(*out, layer, *throwOf(**read));
}

Result<Document> deleteSlide(const json& step, const Document& d) {
  const auto id = slideFor(step, d);
  return id ? withoutSlide(d, *id) : id.error();
}

const ScriptCommand kSlideCommands[] = {
    {"slide",
     {"slide", "file", "name", "camera", "view", "middle", "half", "turn", "mirrored", "pins", "solve",
      "fit light", "even", "broad", "highlights", "match", "through", "zone"},
     placeSlide},
    {"throw",
     {"slide", "onto", "part", "split", "reach", "feather", "level", "color", "relief", "gloss", "without"},
     throwSlide},
    {"delete slide", {"slide"}, deleteSlide},
};

}  // namespace

std::span<const ScriptCommand> slideCommands() {
  return kSlideCommands;
}

Result<SlidePaint> slidePaintIn(const json& said, const Document& d) {
  std::string part(photoPartKey(PhotoPart::All));
  SlidePaint out;
  out.split.size = 0.01f * d.surface->bounds.diagonal();
  const json* slide = nullptr;
  const Outcome ok = JsonFields(said)
                         .any("slide", slide)
                         .text("part", part)
                         .number("split", out.split.size, 1e-6f, 1e9f)
                         .number("feather", out.feather, 0, 1)
                         .done();
  if (!ok) return Error{"has paint that " + ok.error().what};
  const auto known = photoPartFromKey(part);
  if (!known) return Error{"paints \"all\", \"detail\" or \"tone\" of a slide"};
  out.split.part = *known;
  const auto id = slideFor(said, d);
  if (!id) return id.error();
  out.slide = *slideOf(d, *id);
  if (*known == PhotoPart::Detail) {
    auto skin = compositeOf(d.layers, *d.maps, d.bare);
    if (!skin) return skin.error();
    out.skin = std::move(*skin);
  }
  return out;
}

}  // namespace juvenor::batch
