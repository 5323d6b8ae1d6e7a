#include "core/layers/sources/fine_look.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

// By how much pores and creases are deeper than lines, and tops rise over all.
constexpr float kPoreDepth = 1.5f, kCreaseDepth = 1.8f, kTop = 0.35f;
// Of half a width.
constexpr float kWidestLine = 0.5f, kWidestPore = 0.75f;
// Of half the way from crease to crease.
constexpr float kWidestCrease = 0.3f;
// Lines along the pull are shallower than those across it.
constexpr float kAlong = 0.45f;

float part(uint8_t v) {
  return static_cast<float>(v) * (1 / 255.f);
}

// 1 at the middle of what is cut in, 0 at its rim.
float cut(float far, float half) {
  const float t = std::clamp(1 - far / half, 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

}  // namespace

// Lines are even over the width of a cell, the share of a distance t to the border being 2(1 − t); corners
// come two to a cell, each with its part of a hexagon; creases are even from one to the next. Each cut
// profile t²(3 − 2t) has a mean of one half over its width, a disc of it three tenths of its square.
FineLook::FineLook(const FineSkin& skin, float reliefStep) : skin_(skin), reliefStep_(reliefStep) {
  const float line = kWidestLine * std::sqrt(skin.lines), pore = kWidestPore * (0.5f + 0.5f * skin.pores);
  const float lines = skin.lines * (line - 0.3f * line * line);
  const float discs = 2 * 0.3f * 3.14159265f * pore * pore / (2 * std::sqrt(3.f));
  const float creases = skin.creases * skin.creases * 0.5f * kWidestCrease;
  meanHidden_ = std::min(1.f, 0.5f * (1 + kAlong) * lines + skin.pores * discs * 0.66f + creases);
}

FineLook::Marks FineLook::marks(const FinePlace& place, float mask) const {
  const auto like = [&](size_t i) { return static_cast<float>(place.like[i]) / 64.f; };
  const float soft = part(place.soft), there = mask * part(place.shown);
  Marks out{};
  const float lines = std::min(1.f, skin_.lines * like(0)), pores = std::min(1.f, skin_.pores * like(1)),
              creases = std::min(1.f, skin_.creases * like(2));
  if (lines > 0) {
    const float wide = std::max(soft, kWidestLine * std::sqrt(lines));
    out.line = there * lines * (kAlong + (1 - kAlong) * part(place.across)) * cut(part(place.edge), wide);
  }
  // a corner has a pore by its own chance, and where the mask fades fewer have
  const float chance = part(place.cornerKey);
  if (chance < pores * there) {
    const float turns = 7.3f * chance;
    const float own = 0.7f + 0.6f * (turns - static_cast<float>(static_cast<int>(turns)));
    const float wide = std::max(1.2f * soft, kWidestPore * (0.5f + 0.5f * pores) * std::sqrt(own) * 0.8f);
    out.pore = there * own * cut(part(place.corner), wide);
  }
  if (creases > 0) {
    const float whole = std::clamp(2.5f * (creases - part(place.creaseKey)) + 0.5f, 0.f, 1.f);
    out.crease = there * creases * whole * cut(part(place.crease), kWidestCrease);
  }
  out.top = there * std::min(1.f, 1.6f * part(place.edge)) * (1 - std::min(1.f, out.pore));
  return out;
}

ColorField::Pointer FineLook::colors(std::span<const FinePlace> places, const ScalarChunk* mask) const {
  auto out = std::make_shared<ColorChunk>();
  for (size_t i = 0; i < places.size(); ++i) {
    const float shown = mask ? from16(mask->plane[0][i]) : 1.f;
    if (!(shown > 0)) continue;
    const Marks m = marks(places[i], shown);
    const float alpha = skin_.cover * std::min(1.f, m.line + m.pore + m.crease);
    setSample(
        *out, i,
        {to16(alpha * skin_.color.r), to16(alpha * skin_.color.g), to16(alpha * skin_.color.b), to16(alpha)});
  }
  return out;
}

float FineLook::glossAt(const Marks& m) const {
  const float hidden = std::min(1.f, m.line + m.pore + m.crease);
  return std::clamp(skin_.gloss + skin_.sheen * (meanHidden_ - hidden), 0.f, 1.f);
}

CoverField::Pointer FineLook::gloss(std::span<const FinePlace> places, const ScalarChunk* mask) const {
  auto out = std::make_shared<CoverChunk>();
  for (size_t i = 0; i < places.size(); ++i) {
    const float shown = mask ? from16(mask->plane[0][i]) : 1.f;
    const float cover = skin_.glossCover * shown, there = part(places[i].shown);
    const float grown = there > 0 ? glossAt(marks(places[i], 1)) : skin_.gloss;
    out->plane[0][i] = to16(cover * (skin_.gloss + there * (grown - skin_.gloss)));
    out->plane[1][i] = to16(cover);
  }
  return out;
}

ScalarField::Pointer FineLook::heights(std::span<const FinePlace> places, const ScalarChunk* mask) const {
  auto out = std::make_shared<ScalarChunk>();
  out->plane[0].fill(kLevel);
  for (size_t i = 0; i < places.size(); ++i) {
    const float shown = mask ? from16(mask->plane[0][i]) : 1.f;
    if (!(shown > 0) || places[i].shown == 0) continue;
    const Marks m = marks(places[i], shown);
    const float deep = std::max({m.line, kPoreDepth * m.pore, kCreaseDepth * m.crease}) - kTop * m.top;
    out->plane[0][i] = height16(-skin_.depth * deep, reliefStep_);
  }
  return out;
}

}  // namespace juvenor
