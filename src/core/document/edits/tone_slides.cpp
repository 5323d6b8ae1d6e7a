#include "core/document/edits/tone_slides.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/color/lab.h"
#include "core/document/whole_stack.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/light_over.h"
#include "core/layers/sources/thrown.h"
#include "core/layers/zones/hue_zone.h"
#include "core/photo/fit_light.h"
#include "core/photo/tone_spread.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

constexpr size_t kSpots = 40'000;     // looked at to tell tones
constexpr size_t kLitSpots = 12'000;  // and light
constexpr float kTurnedAway = 0.3f;   // cosine: beyond it light and tones are told badly
constexpr float kAroundPin = 0.004f;  // of the sculpt's size: what is looked at around a pin
constexpr float kFewAcross = 3;       // widths of a sample: never less

Error noPicture(const Slide& slide) {
  return {fmt::format("the picture of the slide “{}” is missing", slide.name)};
}

// Samples a slide lands on, some of them evenly over all, and what it shows there.
struct Landed {
  std::vector<uint32_t> samples;
  std::vector<LinearColor> colors;
  std::vector<float> weights;  // by area and how squarely they are seen
};

Result<Landed> landedOn(const Document& document, const Slide& slide, size_t most, const Progress& progress) {
  if (!slide.picture) return noPicture(slide);
  const auto seen = seenFrom(slide.camera, document.hiddenParts, *document.maps, progress);
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

// The skin without what one slide brings, looked up sample by sample.
class SkinWithout {
 public:
  static Result<SkinWithout> of(const Document& document, uint32_t slide, const Progress& progress) {
    LayerStack layers;
    for (const LayerPointer& layer : document.layers) {
      const Throw* thrown = throwOf(*layer->source);
      if (!thrown || std::ranges::find(thrown->slides, slide, &Slide::id) == thrown->slides.end())
        layers.push_back(layer);
    }
    auto stack = wholeStackOf(document, layers, progress);
    if (!stack) return stack.error();
    return SkinWithout(document, std::move(*stack));
  }

  /// Quickest in ascending order.
  LinearColor at(uint32_t sample) {
    if (sample / kChunkSize != index_ || !chunk_) {
      index_ = sample / kChunkSize;
      chunk_ = compositeChunk(stack_, bare_, index_);
    }
    return decode(straight(sampleOf(*chunk_, sample % kChunkSize)));
  }
  const PreparedStack& stack() const { return stack_; }

 private:
  SkinWithout(const Document& document, PreparedStack stack)
      : stack_(std::move(stack)), bare_(document.bare) {}

  PreparedStack stack_;
  EncodedColor bare_;
  ColorField::Pointer chunk_;
  size_t index_ = 0;
};

// Samples and how much each counts.
struct Weighted {
  std::vector<uint32_t> samples;
  std::vector<float> weights;
};

Result<Weighted> whereZoneWorks(const Document& document, const Layer& layer, const std::string& name) {
  const ZoneSet* set = layer.source->zones();
  if (!set) return Error{fmt::format("“{}” is no layer of zones", layer.name)};
  const auto zone = std::ranges::find(set->zones, name, &HueZone::name);
  if (zone == set->zones.end()) return Error{fmt::format("“{}” has no zone “{}”", layer.name, name)};
  const ZoneInfluencePointer influence = influenceOf(*document.maps, *zone, set->melt);
  Weighted out;
  const size_t step = std::max<size_t>(1, influence->samples.size() / kSpots);
  for (size_t i = 0; i < influence->samples.size(); i += step) {
    const uint32_t s = influence->samples[i];
    out.samples.push_back(s);
    out.weights.push_back(influence->values[i] * document.surface->areas[s]);
  }
  return out;
}

Result<Weighted> whereMaskShows(const Document& document, const PreparedStack& stack, uint32_t layer) {
  const auto found = std::ranges::find_if(stack, [&](const auto& l) { return l.layer->id == layer; });
  if (found == stack.end()) return Error{fmt::format("there is no layer {}", layer)};
  const size_t size = document.surface->size();
  const ScalarField mask = wholeMask(*found, size);
  Weighted out;
  for (size_t s = 0; s < size; s += std::max<size_t>(1, size / kSpots))
    if (const float shows = from16(mask.at(s)[0]); shows > 0) {
      out.samples.push_back(static_cast<uint32_t>(s));
      out.weights.push_back(shows * document.surface->areas[s]);
    }
  return out;
}

Result<Weighted> whereWanted(const Document& document, const PreparedStack& stack, const TonesWanted& wanted,
                             const Landed& landed) {
  if (!wanted.layer) return Weighted{landed.samples, landed.weights};
  if (wanted.zone.empty()) return whereMaskShows(document, stack, *wanted.layer);
  const LayerPointer layer = layerOf(document, *wanted.layer);
  if (!layer) return Error{fmt::format("there is no layer {}", *wanted.layer)};
  return whereZoneWorks(document, *layer, wanted.zone);
}

// What lies around a pin: the skin, how it is lit on the photo, and the spot as wide as that.
struct AroundPin {
  LinearColor skin{};
  SlideView::Spot spot;
};

std::optional<AroundPin> around(const SlidePin& pin, const Surface& surface, SkinWithout& skin,
                                const LightOver* light) {
  const auto sample = nearestSample(surface, pin.onSkin, surface.bounds.diagonal());
  if (!sample) return std::nullopt;
  const float wide =
      std::max(kFewAcross * std::sqrt(surface.areas[*sample]), kAroundPin * surface.bounds.diagonal());
  AroundPin out;
  out.spot = {pin.onSkin, surface.normals[*sample], std::numbers::pi_v<float> * wide * wide};
  std::vector<uint32_t> near;
  samplesWithin(surface, pin.onSkin, wide, near);
  if (near.empty()) near.push_back(*sample);
  float area = 0;
  for (const uint32_t s : near) area += surface.areas[s];
  ColorFactors lit{};
  for (const uint32_t s : near) {
    const LinearColor c = skin.at(s);
    const float a = surface.areas[s] / area;
    out.skin = {out.skin.r + a * c.r, out.skin.g + a * c.g, out.skin.b + a * c.b};
    if (!light) continue;
    const ColorFactors here = light->at(s, surface.positions[s], surface.normals[s]);
    for (size_t i = 0; i < 3; ++i) lit[i] += a * here[i];
  }
  if (light) out.spot.light = lit;
  return out;
}

}  // namespace

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

Result<Slide> withTonesMatched(const Document& document, const Slide& slide, const TonesWanted& wanted,
                               const Progress& progress) {
  Slide plain = slide;
  plain.tone.match = 0;
  auto landed = landedOn(document, plain, kSpots, progress);
  if (!landed) return landed.error();
  const auto from = spreadOf(landed->colors, landed->weights);
  if (!from) return Error{"the slide meets no skin that faces it: there is nothing to match"};
  auto skin = SkinWithout::of(document, slide.id, progress);
  if (!skin) return skin.error();
  const auto where = whereWanted(document, skin->stack(), wanted, *landed);
  if (!where) return where.error();
  std::vector<LinearColor> colors;
  for (const uint32_t s : where->samples) colors.push_back(skin->at(s));
  const auto to = spreadOf(colors, where->weights);
  if (!to) return Error{"the mask shows nothing: there is nothing to match"};
  Slide out = slide;
  out.tone.from = *from;
  out.tone.to = *to;
  if (out.tone.match == 0) out.tone.match = 1;
  return out;
}

Result<std::vector<std::optional<PinDifference>>> pinDifferences(const Document& document, const Slide& slide,
                                                                 const Progress& progress) {
  if (!slide.picture) return noPicture(slide);
  auto skin = SkinWithout::of(document, slide.id, progress);
  if (!skin) return skin.error();
  const auto light = lightOver(slide, *document.maps, progress);
  if (!light) return light.error();
  Slide bare = slide;
  bare.tone = {};
  const SlideView plain(bare), toned(slide);
  std::vector<std::optional<PinDifference>> out;
  for (const SlidePin& pin : slide.pins) {
    out.emplace_back();
    const auto there = around(pin, *document.surface, *skin, light->get());
    const auto landing = there ? plain.landing(there->spot) : std::nullopt;
    if (!landing || !landing->inside) continue;
    const Lab wanted = toLab(encode(there->skin));
    const auto off = [&](const SlideView& view) {
      return deltaE2000(wanted, toLab(encode(view.shown(*landing, there->spot.light).color)));
    };
    out.back() = PinDifference{off(plain), off(toned)};
  }
  return out;
}

}  // namespace juvenor
