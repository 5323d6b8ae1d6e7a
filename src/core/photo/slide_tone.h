// What is done to a slide's light and tones before it reaches the skin: broad light divided out, highlights
// lifted off, tones matched to others. All of it is settings; nothing of the picture is changed.
#pragma once

#include <array>
#include <nlohmann/json.hpp>
#include <optional>

#include "core/color/oklab.h"
#include "core/result.h"
#include "core/surface/maps/open_sky.h"

namespace juvenor {

/// Mean and standard deviation of colours in Oklab, by lightness, a and b.
struct ToneSpread {
  std::array<float, 3> mean{0.5f, 0, 0}, deviation{0.1f, 0.02f, 0.02f};
  bool operator==(const ToneSpread&) const = default;
};

/// Light around a form: what comes from each of skyWays() for each of red, green and blue, not below 0; in
/// the axes of the scene. Scaled so that what reaches the skin is one in the mean over what was looked at.
using WayLight = std::array<std::array<float, kSkyWays>, 3>;
/// The same light on a sculpt that was turned.
WayLight turnedLight(const WayLight& light, const Eigen::Matrix3f& turn);

struct SlideTone {
  float even = 0;      ///< 0…1: how much of its broad light is divided out
  float broad = 0.2f;  ///< of the longer side: what varies more slowly than this is taken for light
  std::optional<WayLight> light;  ///< fitted on the form: divided out in place of what the picture shows
  float highlights = 0;           ///< 0…1: how much of what shines over its surroundings is lifted off
  float match = 0;                ///< 0…1: how far its tones move
  ToneSpread from, to;            ///< from these to those

  bool operator==(const SlideTone&) const = default;
};

nlohmann::json toJson(const SlideTone& tone);
/// Every value is checked. Earlier files keep a fitted light as nine numbers a colour over harmonics in the
/// axes of the view, which `view` turns into the scene's; what of them is light comes from the ways.
Result<SlideTone> slideToneFromJson(const nlohmann::json& json, const Eigen::Matrix3f& view);

}  // namespace juvenor
