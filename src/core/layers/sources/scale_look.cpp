#include "core/layers/sources/scale_look.h"

#include <algorithm>
#include <cmath>

#include "core/color/moved_color.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

constexpr size_t kShades = 32;      // how many tones there are
constexpr size_t kShadeSteps = 64;  // of the ramp in each
// Of the edge's own measure (a width is 2): how wide the rim is that catches light.
constexpr float kRim = 0.22f;
constexpr float kKeelWidth = 0.16f;  // widths, to either side

float smooth(float t) {
  t = std::clamp(t, 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

// A premultiplied tone as the hand wants it on a scale of its own.
std::array<float, 3> retoned(const std::array<float, 3>& tone, float alpha, const TouchedCell& by) {
  if (!(alpha > 0)) return tone;
  const EncodedColor plain = movedColor({tone[0] / alpha, tone[1] / alpha, tone[2] / alpha}, by.light, 0, 0);
  const auto mixed = [&](float from, float to) { return alpha * (from + by.tinted * (to - from)); };
  return {mixed(plain.r, by.tint.r), mixed(plain.g, by.tint.g), mixed(plain.b, by.tint.b)};
}

// The ramp with every stop moved by the same draws.
std::vector<std::array<float, 4>> shadesOf(const Scales& scales) {
  std::vector<std::array<float, 4>> out;
  for (size_t shade = 0; shade < kShades; ++shade) {
    Draws draws(scales.seed, shade + 1);
    const ColorVariety& v = scales.variety;
    const float l = v.lightness * draws.around(), c = v.chroma * draws.around(), h = v.hue * draws.around();
    RampStops stops = scales.ramp;
    for (RampStop& stop : stops) stop.color = movedColor(stop.color, l, c, h);
    for (const Rgba16& tone : rampTable(stops, kShadeSteps))
      out.push_back({from16(tone.r), from16(tone.g), from16(tone.b), from16(tone.a)});
  }
  return out;
}

}  // namespace

ScaleLook::ScaleLook(const Scales& scales, const Cells& cells, float spacing, float reliefStep)
    : scales_(scales),
      reliefStep_(reliefStep),
      touched_(cells.touched.begin(), cells.touched.end()),
      shades_(shadesOf(scales)) {
  traits_.reserve(cells.all.size());
  for (const SkinCell& cell : cells.all) {
    Draws draws(cell.key, 7);
    Traits out;
    out.shade = static_cast<uint16_t>(draws.bits() % kShades);
    out.own = static_cast<uint16_t>(draws.bits() % kShadeSteps);
    out.soft = 2 * spacing / cell.width;
    out.lift = 1 - scales.uneven * draws.unit();
    const float rubbed = draws.unit() < scales.wear ? scales.wear * draws.unit() : 0;
    out.cover = 1 - 0.7f * rubbed;
    out.dull = 1 - 0.6f * rubbed;
    traits_.push_back(out);
  }
  for (uint32_t i = 0; i < touched_.size(); ++i) traits_[touched_[i].cell].touched = i;
}

std::vector<uint32_t> ScaleLook::touchedUnlike(const ScaleLook& other) const {
  std::vector<uint32_t> out;
  for (const auto& [mine, theirs] : {std::pair(&touched_, &other.touched_), {&other.touched_, &touched_}})
    for (const TouchedCell& cell : *mine)
      if (std::ranges::find(*theirs, cell) == theirs->end()) out.push_back(cell.cell);
  return out;
}

ScaleLook::At ScaleLook::at(const CellPlaces::Place& place, const Traits& traits, float mask) const {
  At out;
  out.along = static_cast<float>(place.along) / CellPlaces::kUnit;
  out.across = static_cast<float>(place.across) / CellPlaces::kUnit;
  out.mask = mask;
  // what is left of a scale shrinks toward its middle
  out.edge = static_cast<float>(place.edge) / CellPlaces::kEdge - 1.05f * (1 - mask);
  const float half = 0.5f * scales_.groove, flank = std::max(half, traits.soft);
  out.shows = smooth((out.edge - std::min(half, 0.5f * flank)) / flank);
  out.groove = mask;
  return out;
}

size_t ScaleLook::rampPlace(const At& at, const Traits& traits) const {
  float t = 0;
  switch (scales_.over) {
    case ScaleCoordinate::Edge:
      t = at.edge;
      break;
    case ScaleCoordinate::Along:
      t = (at.along + 0.6f) / 1.4f;
      break;
    case ScaleCoordinate::Across:
      t = 2 * std::abs(at.across);
      break;
    case ScaleCoordinate::Each:
      return traits.own;
  }
  return static_cast<size_t>(std::clamp(t, 0.f, 1.f) * (kShadeSteps - 1) + 0.5f);
}

// 0 in the groove … 1 at the top of a scale that is not raised.
float ScaleLook::profile(const At& at, const Traits& traits) const {
  const float in = std::clamp(at.edge, 0.f, 1.f), round = std::sqrt(std::max(0.f, in * (2 - in)));
  float top = 1 - scales_.dome * (1 - round);
  top += 0.45f * scales_.keel * smooth(1 - std::abs(at.across) / kKeelWidth) * in;
  top += 0.5f * scales_.tilt * std::clamp(at.along, -0.6f, 1.2f);
  return at.shows * std::max(0.f, top) * traits.lift * at.mask;
}

template <class Each>
void ScaleLook::eachPlace(std::span<const CellPlaces::Place> places, const ScalarChunk* mask,
                          Each each) const {
  for (size_t i = 0; i < places.size(); ++i) {
    const CellPlaces::Place& place = places[i];
    const float shown = mask ? static_cast<float>(mask->plane[0][i]) / 65535.f : 1.f;
    if (place.cell == kNone || !(shown > 0)) continue;
    const Traits& traits = traits_[place.cell];
    if (traits.touched != kNone && touched_[traits.touched].lost) continue;
    each(i, at(place, traits, shown), traits);
  }
}

ColorField::Pointer ScaleLook::colors(std::span<const CellPlaces::Place> places,
                                      const ScalarChunk* mask) const {
  auto out = std::make_shared<ColorChunk>();
  const EncodedColor& g = scales_.grooveColor;
  eachPlace(places, mask, [&](size_t i, const At& at, const Traits& traits) {
    const auto& tone = shades_[traits.shade * kShadeSteps + rampPlace(at, traits)];
    const float groove = scales_.grooveCover * at.groove * (1 - at.shows), scale = at.shows * traits.cover;
    const float rim =
        scales_.edgeLight * at.shows * smooth(1 - std::abs(at.edge - scales_.groove - kRim) / kRim);
    const float alpha = groove + scale * tone[3];
    std::array own{tone[0], tone[1], tone[2]};
    if (traits.touched != kNone) own = retoned(own, tone[3], touched_[traits.touched]);
    const std::array groovy{g.r, g.g, g.b};
    for (size_t p = 0; p < 3; ++p) {
      const float color = groove * groovy[p] + scale * own[p];
      out->plane[p][i] = to16(std::min(alpha, color + rim * 0.5f * (alpha - color)));
    }
    out->plane[3][i] = to16(alpha);
  });
  return out;
}

CoverField::Pointer ScaleLook::gloss(std::span<const CellPlaces::Place> places,
                                     const ScalarChunk* mask) const {
  auto out = std::make_shared<CoverChunk>();
  eachPlace(places, mask, [&](size_t i, const At& at, const Traits& traits) {
    const float groove = at.groove * (1 - at.shows);
    out->plane[0][i] = to16(groove * scales_.grooveGloss + at.shows * scales_.gloss * traits.dull);
    out->plane[1][i] = to16(groove + at.shows);
  });
  return out;
}

ScalarField::Pointer ScaleLook::heights(std::span<const CellPlaces::Place> places,
                                        const ScalarChunk* mask) const {
  auto out = std::make_shared<ScalarChunk>();
  out->plane[0].fill(kLevel);
  eachPlace(places, mask, [&](size_t i, const At& at, const Traits& traits) {
    out->plane[0][i] = height16(scales_.depth * profile(at, traits), reliefStep_);
  });
  return out;
}

}  // namespace juvenor
