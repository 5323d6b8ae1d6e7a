#include "core/document/edits/edit_slides.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits/edits.h"
#include "core/photo/solve_camera.h"

namespace juvenor {
namespace {

constexpr float kAcross = 0.8f;   // of the view's height a fresh slide takes
constexpr float kMargin = 1.06f;  // of a view that shows a whole photo

Error noSlide(uint32_t id) {
  return {fmt::format("there is no slide {}", id)};
}

Result<Document> withSourceChanged(const Document& document, size_t at, SourcePointer source) {
  Document out = document;
  Layer layer = *document.layers[at];
  layer.source = std::move(source);
  out.layers[at] = std::make_shared<Layer>(std::move(layer));
  return out;
}

}  // namespace

const Slide* slideOf(const Document& document, uint32_t id) {
  const auto found = std::ranges::find(document.slides, id, &Slide::id);
  return found == document.slides.end() ? nullptr : &*found;
}

Slide freshSlide(std::string name, PicturePointer picture, const Camera& camera) {
  Slide out;
  out.name = std::move(name);
  out.fingerprint = picture->fingerprint;
  const auto high = static_cast<float>(picture->height), wide = static_cast<float>(picture->width);
  out.half = kAcross * std::max(wide, high) / high;
  out.picture = std::move(picture);
  out.camera = camera;
  return out;
}

Result<Document> withSlide(const Document& document, Slide slide) {
  if (!slide.picture) return Error{fmt::format("the picture of the slide “{}” is missing", slide.name)};
  slide.fingerprint = slide.picture->fingerprint;
  Document out = document;
  if (slide.id == 0) {
    slide.id = out.nextSlide++;
    out.slides.push_back(std::move(slide));
    return out;
  }
  const auto found = std::ranges::find(out.slides, slide.id, &Slide::id);
  if (found == out.slides.end()) return noSlide(slide.id);
  *found = slide;
  for (LayerPointer& pointer : out.layers) {
    const Throw* thrown = throwOf(*pointer->source);
    if (!thrown || std::ranges::find(thrown->slides, slide.id, &Slide::id) == thrown->slides.end()) continue;
    Throw next = *thrown;
    for (Slide& s : next.slides)
      if (s.id == slide.id) s = slide;
    Layer layer = *pointer;
    layer.source = throwSource(std::move(next));
    pointer = std::make_shared<Layer>(std::move(layer));
  }
  return out;
}

Result<Document> withoutSlide(const Document& document, uint32_t id) {
  Document out = document;
  if (std::erase_if(out.slides, [&](const Slide& s) { return s.id == id; }) == 0) return noSlide(id);
  return out;
}

Result<Document> withThrow(const Document& document, uint32_t id, std::optional<uint32_t> onto) {
  const Slide* slide = slideOf(document, id);
  if (!slide) return noSlide(id);
  if (!onto) {
    Throw thrown = *throwOf(*sourceKind("slide")->fresh(*document.surface, {}));
    thrown.slides = {*slide};
    thrown.without = document.hiddenParts;
    return withSourceLayer(document, slide->name, Stratum::Surface, throwSource(std::move(thrown)));
  }
  const size_t at = placeOf(document, *onto);
  if (at == document.layers.size()) return Error{fmt::format("there is no layer {}", *onto)};
  const Throw* there = throwOf(*document.layers[at]->source);
  if (!there) return Error{fmt::format("“{}” is no layer of thrown slides", document.layers[at]->name)};
  if (std::ranges::find(there->slides, id, &Slide::id) != there->slides.end())
    return Error{fmt::format("“{}” is thrown on “{}” already", slide->name, document.layers[at]->name)};
  Throw next = *there;
  next.slides.push_back(*slide);
  return withSourceChanged(document, at, throwSource(std::move(next)));
}

Result<Document> withThrowSet(const Document& document, uint32_t id, const Throw& setting) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return Error{fmt::format("there is no layer {}", id)};
  const Throw* there = throwOf(*document.layers[at]->source);
  if (!there) return Error{fmt::format("“{}” is no layer of thrown slides", document.layers[at]->name)};
  Throw next = setting;
  next.slides = there->slides;
  return withSourceChanged(document, at, throwSource(std::move(next)));
}

Result<Slide> withCameraSolved(const Slide& slide, float* missing) {
  if (!slide.picture) return Error{fmt::format("the picture of the slide “{}” is missing", slide.name)};
  const auto wide = static_cast<float>(slide.picture->width),
             high = static_cast<float>(slide.picture->height);
  const float aspect = high / std::max(wide, high);
  std::vector<CameraPin> pins;
  for (const SlidePin& pin : slide.pins) {
    Vec2 at = pin.onPicture;
    if (slide.mirrored) at.x() = -at.x();
    pins.push_back({at, pin.onSkin});
  }
  auto solved = solveCamera(pins, aspect);
  if (!solved) return solved.error();
  if (missing) *missing = 0.5f * solved->missing * std::max(wide, high);
  Slide out = slide;
  const float tangent = std::tan(solved->camera.fieldOfView * std::numbers::pi_v<float> / 360);
  out.camera = solved->camera;
  out.camera.fieldOfView = 360 * std::numbers::inv_pi_v<float> * std::atan(kMargin * tangent);
  out.middle = Vec2::Zero();
  out.turn = 0;
  out.half = 1 / (aspect * kMargin);
  return out;
}

}  // namespace juvenor
