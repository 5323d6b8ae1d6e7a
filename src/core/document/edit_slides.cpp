#include "core/document/edit_slides.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits.h"
#include "core/layers/below_chunks.h"
#include "core/layers/composite.h"
#include "core/layers/light_over.h"
#include "core/photo/fit_light.h"
#include "core/photo/solve_camera.h"
#include "core/photo/tone_spread.h"

namespace juvenor {
namespace {

constexpr float kAcross = 0.8f;       // of the view's height a fresh slide takes
constexpr size_t kSpots = 40'000;     // looked at to tell tones
constexpr size_t kLitSpots = 12'000;  // and light
constexpr float kTurnedAway = 0.3f;   // cosine: beyond it light and tones are told badly
constexpr float kMargin = 1.06f;      // of a view that shows a whole photo

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

// Samples a slide lands on, some of them evenly over all, and what it shows there.
struct Landed {
  std::vector<uint32_t> samples;
  std::vector<LinearColor> colors;
  std::vector<float> weights;  // by area and how squarely they are seen
};

Result<Landed> landedOn(const Document& document, const Slide& slide, size_t most, const Progress& progress) {
  if (!slide.picture) return Error{fmt::format("the picture of the slide “{}” is missing", slide.name)};
  const auto seen = seenFrom(slide.camera, *document.maps, progress);
  if (!seen) return seen.error();
  const Surface& surface = *document.surface;
  std::vector<uint32_t> reached;
  for (uint32_t s = 0; s < surface.size(); ++s)
    if ((**seen)[s] == 255) reached.push_back(s);
  const size_t step = std::max<size_t>(1, reached.size() / most);
  const SlideView view(slide);
  const auto light = lightOver(slide, *document.maps, progress);
  if (!light) return light.error();
  Landed out;
  for (size_t i = 0; i < reached.size(); i += step) {
    const uint32_t s = reached[i];
    const SlideView::Spot spot{surface.positions[s], surface.normals[s], surface.areas[s]};
    const float facing = view.facing(spot);
    const auto landing = facing > kTurnedAway ? view.landing(spot) : std::nullopt;
    if (!landing || !landing->inside) continue;
    const PictureValue value =
        view.shown(*landing, *light ? (*light)->at(s, spot.place, spot.normal) : kNoLight);
    if (!(value.alpha > 0.5f)) continue;
    out.samples.push_back(s);
    out.colors.push_back(value.color);
    out.weights.push_back(surface.areas[s] * facing);
  }
  return out;
}

// The skin without what one slide brings.
Result<PreparedStack> without(const Document& document, uint32_t slide, const Progress& progress) {
  LayerStack layers;
  for (const LayerPointer& layer : document.layers) {
    const Throw* thrown = throwOf(*layer->source);
    if (!thrown || std::ranges::find(thrown->slides, slide, &Slide::id) == thrown->slides.end())
      layers.push_back(layer);
  }
  auto stack = prepared(layers, *document.maps, progress);
  if (!stack) return stack;
  return linked(std::move(*stack), document.bare, document.surface->size());
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

Result<Slide> withLightFitted(const Document& document, const Slide& slide, const Progress& progress) {
  Slide out = slide;
  out.tone.light.reset();
  Slide plain = out;
  plain.tone = {};
  auto landed = landedOn(document, plain, kLitSpots, progress);
  if (!landed) return landed.error();
  const auto sky = openSky(*document.maps, progress);
  if (!sky) return sky.error();
  std::vector<LitSpot> spots;
  for (size_t i = 0; i < landed->samples.size(); ++i) {
    const uint32_t s = landed->samples[i];
    const Vec3& normal = document.surface->normals[s];
    spots.push_back({normal, reachOf(**sky, s, normal), landed->colors[i], landed->weights[i]});
  }
  auto light = fittedLight(spots);
  if (!light) return light.error();
  out.tone.light = *light;
  if (out.tone.even == 0) out.tone.even = 1;
  return out;
}

Result<Slide> withTonesMatched(const Document& document, const Slide& slide, std::optional<uint32_t> through,
                               const Progress& progress) {
  Slide plain = slide;
  plain.tone.match = 0;
  auto landed = landedOn(document, plain, kSpots, progress);
  if (!landed) return landed.error();
  const auto from = spreadOf(landed->colors, landed->weights);
  if (!from) return Error{"the slide meets no skin that faces it: there is nothing to match"};
  auto stack = without(document, slide.id, progress);
  if (!stack) return stack.error();
  std::vector<uint32_t> samples = landed->samples;
  std::vector<float> weights = landed->weights;
  if (through) {
    const auto found = std::ranges::find_if(*stack, [&](const auto& l) { return l.layer->id == *through; });
    if (found == stack->end()) return Error{fmt::format("there is no layer {}", *through)};
    const ScalarField mask = wholeMask(*found, document.surface->size());
    samples.clear();
    weights.clear();
    const size_t step = std::max<size_t>(1, document.surface->size() / kSpots);
    for (size_t s = 0; s < document.surface->size(); s += step)
      if (const float shows = from16(mask.at(s)[0]); shows > 0) {
        samples.push_back(static_cast<uint32_t>(s));
        weights.push_back(shows * document.surface->areas[s]);
      }
  }
  std::vector<LinearColor> colors;
  ColorField::Pointer chunk;
  size_t index = document.surface->size();
  for (const uint32_t s : samples) {
    if (s / kChunkSize != index) {
      index = s / kChunkSize;
      chunk = compositeChunk(*stack, document.bare, index);
    }
    colors.push_back(decode(straight(sampleOf(*chunk, s % kChunkSize))));
  }
  const auto to = spreadOf(colors, weights);
  if (!to) return Error{"the mask shows nothing: there is nothing to match"};
  Slide out = slide;
  out.tone.from = *from;
  out.tone.to = *to;
  if (out.tone.match == 0) out.tone.match = 1;
  return out;
}

}  // namespace juvenor
