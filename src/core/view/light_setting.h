// The light one looks under, as a setting: render/light.h says what it lays on skin.
#pragma once

#include <array>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

namespace juvenor {

class Environment;
using EnvironmentPointer = std::shared_ptr<const Environment>;

enum class LightKind { Overcast, Lamps, Surroundings };
std::string_view lightKindKey(LightKind kind);
std::optional<LightKind> lightKindFromKey(std::string_view key);

struct Lamp {
  bool on = true;
  float around = 0, up = 0;  ///< degrees: around the upright axis as the dial counts, and above the horizon
  float strength = 1;        ///< what a wall that faces it receives
  float size = 10;           ///< degrees across, as seen from the skin; makes shadow edges soft
  float kelvin = 6500;
  bool shineOnly = false;  ///< it is mirrored and lights nothing: what stands in an eye

  bool operator==(const Lamp&) const = default;
};
inline constexpr size_t kLampCount = 4;
/// Key, fill and rim, and one that is mirrored only, off until it is wanted.
std::array<Lamp, kLampCount> usualLamps();
inline constexpr std::array<std::string_view, kLampCount> kLampKeys{"key", "fill", "rim", "catch"};

struct Light {
  LightKind kind = LightKind::Overcast;
  float dial = 40;  ///< degrees around the upright axis; the patch is at the front at 0, at the right at 90
  float patch = 1;  ///< brightness of the overcast sky's patch; 0 is a bare sky
  std::array<Lamp, kLampCount> lamps = usualLamps();
  std::string surroundings = "river";  ///< the key of a made panorama, or the path of a file
  EnvironmentPointer environment;      ///< of the surroundings; null: not there, the sky takes their place
  float brightness = 1;                ///< of the surroundings
  float exposure = 0;                  ///< stops, of the picture
  float depth = 1;                     ///< how far light wanders, human skin being 1

  bool operator==(const Light&) const = default;
};

}  // namespace juvenor
