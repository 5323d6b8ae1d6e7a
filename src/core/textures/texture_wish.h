// Which texture maps are wanted, and what each holds. One table: the window, scripts, files and docs read it.
#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "core/surface/maps/map_setting.h"

namespace juvenor {

enum class TextureKind : uint8_t {
  Colour,
  Roughness,
  Gloss,
  Metal,
  Glow,
  Emission,
  Wander,
  Coat,
  Fuzz,
  Height,
  Normal,
  Measured,
  Layer,
  Mask,
  Parts,
  Melanin,
  Blood,
  Found,
  Packed,
};

/// What the numbers of a map are.
enum class TextureRole {
  Color,   ///< sRGB-encoded in whole numbers, linear in floats
  Data,    ///< 0…1 as they are
  Height,  ///< whole numbers around the middle of a range, floats in millimetres
  Vector,  ///< unit vectors, −1…1 as 0…1
  Id,      ///< colours that stand for something; never mixed
};

struct TextureKindFacts {
  TextureKind kind;
  std::string_view key;     ///< in scripts and files: "colour"
  std::string_view label;   ///< in the window
  std::string_view does;    ///< one line on what it holds
  std::string_view suffix;  ///< NAME_suffix.png
  TextureRole role;
  int planes;  ///< 4: with alpha
  bool deep;   ///< 16 bits are worth their room
};
std::span<const TextureKindFacts> textureKindFacts();
const TextureKindFacts& factsOf(TextureKind kind);

struct TextureWish {
  TextureKind kind = TextureKind::Colour;
  MapSetting measure;               ///< of Measured: which surface map
  uint32_t layer = 0;               ///< of Layer and Mask: its id
  std::string suffix;               ///< empty: the kind's own
  std::vector<TextureWish> packed;  ///< of Packed: one to four maps of one plane each

  TextureWish() = default;
  TextureWish(TextureKind of) : kind(of) {}
};

/// 1, 3 or 4 values a texel.
int planesOf(const TextureWish& wish);
TextureRole roleOf(const TextureWish& wish);
/// What its file is called after, without what files cannot be called.
std::string suffixOf(const TextureWish& wish);

/// "colour", "occlusion" (any surface map's key), "layer:3", "mask:3", or up to four of one plane with +
/// between: "roughness+metal+occlusion". `diagonal`: of the skin's bounds, for usual scales of surface maps.
Result<TextureWish> textureWishFrom(std::string_view text, float diagonal);
/// The same text of a wish with usual scales.
std::string textOf(const TextureWish& wish);

}  // namespace juvenor
