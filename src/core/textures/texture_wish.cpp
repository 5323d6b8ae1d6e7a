#include "core/textures/texture_wish.h"

#include <fmt/format.h>

#include <charconv>

namespace juvenor {
namespace {

constexpr std::array<TextureKindFacts, 19> kKinds{{
    {TextureKind::Colour, "colour", "Colour", "The skin's colour without any light", "colour",
     TextureRole::Color, 3, false},
    {TextureKind::Roughness, "roughness", "Roughness", "1 − gloss: 0 wet, 1 dry", "roughness",
     TextureRole::Data, 1, false},
    {TextureKind::Gloss, "gloss", "Gloss", "0 dry, 1 wet", "gloss", TextureRole::Data, 1, false},
    {TextureKind::Metal, "metal", "Metal", "0 skin, 1 metal", "metal", TextureRole::Data, 1, false},
    {TextureKind::Glow, "glow", "Glow", "0 none, 1 as bright as its colour", "glow", TextureRole::Data, 1,
     false},
    {TextureKind::Emission, "emission", "Emission", "The light it shines with: colour times glow", "emission",
     TextureRole::Color, 3, false},
    {TextureKind::Wander, "wander", "Wander", "How far light wanders: 0 as in horn, 1 as in skin", "wander",
     TextureRole::Data, 1, false},
    {TextureKind::Coat, "coat", "Coat", "A clear wet film: 0 none, 1 all over", "coat", TextureRole::Data, 1,
     false},
    {TextureKind::Fuzz, "fuzz", "Fuzz", "Down: 0 none, 1 as thick as it gets", "fuzz", TextureRole::Data, 1,
     false},
    {TextureKind::Height, "height", "Height", "Relief, and on another mesh how far the sculpt lies off it",
     "height", TextureRole::Height, 1, true},
    {TextureKind::Normal, "normal", "Normal", "Relief and forms as normals in tangent space", "normal",
     TextureRole::Vector, 3, false},
    {TextureKind::Measured, "measure", "Surface map", "Occlusion, cavity, thickness, or any other", "map",
     TextureRole::Data, 1, false},
    {TextureKind::Layer, "layer", "One layer", "A layer alone, with its alpha", "layer", TextureRole::Color,
     4, false},
    {TextureKind::Mask, "mask", "Mask of a layer", "Where a layer shows: 0 hidden, 1 shown", "mask",
     TextureRole::Data, 1, false},
    {TextureKind::Parts, "parts", "Parts", "A colour for each part", "parts", TextureRole::Id, 3, false},
    {TextureKind::Melanin, "melanin", "Melanin", "The skin model's melanin of the tone nearest to the colour",
     "melanin", TextureRole::Data, 1, false},
    {TextureKind::Blood, "blood", "Blood", "The skin model's blood of the tone nearest to the colour",
     "blood", TextureRole::Data, 1, false},
    {TextureKind::Found, "found", "Found", "On another mesh: where its rays found the skin", "found",
     TextureRole::Data, 1, false},
    {TextureKind::Packed, "packed", "Packed", "Up to four maps of one value in one picture", "packed",
     TextureRole::Data, 0, false},
}};

std::string joined(const std::vector<TextureWish>& wishes, char between,
                   std::string (*text)(const TextureWish&)) {
  std::string out;
  for (const TextureWish& one : wishes) {
    if (!out.empty()) out.push_back(between);
    out.append(text(one));
  }
  return out;
}

Result<TextureWish> oneFrom(std::string_view text, float diagonal) {
  const size_t colon = text.find(':');
  const std::string_view key = text.substr(0, colon);
  if (colon != std::string_view::npos) {
    if (key != "layer" && key != "mask") return Error{fmt::format("there is no map '{}'", text)};
    TextureWish out(key == "layer" ? TextureKind::Layer : TextureKind::Mask);
    const std::string_view id = text.substr(colon + 1);
    const auto [end, error] = std::from_chars(id.data(), id.data() + id.size(), out.layer);
    if (error != std::errc{} || end != id.data() + id.size())
      return Error{fmt::format("'{}' names no layer by its number", text)};
    return out;
  }
  if (const auto* measure = mapKind(key)) {
    TextureWish out(TextureKind::Measured);
    out.measure = usualMap(measure, diagonal);
    return out;
  }
  for (const TextureKindFacts& k : kKinds)
    if (k.key == key && k.kind != TextureKind::Measured && k.kind != TextureKind::Packed &&
        k.kind != TextureKind::Layer && k.kind != TextureKind::Mask)
      return TextureWish(k.kind);
  std::string known;
  for (const TextureKindFacts& k : kKinds)
    if (k.kind < TextureKind::Measured || k.kind > TextureKind::Mask)
      if (k.kind != TextureKind::Packed) known += std::string(k.key) + ", ";
  for (const auto* m : mapKinds()) known += std::string(m->key) + ", ";
  return Error{fmt::format("there is no map '{}'; there are {}layer:NUMBER and mask:NUMBER", text, known)};
}

}  // namespace

std::span<const TextureKindFacts> textureKindFacts() {
  return kKinds;
}

const TextureKindFacts& factsOf(TextureKind kind) {
  return kKinds[static_cast<size_t>(kind)];
}

int planesOf(const TextureWish& wish) {
  // (two values would be grey and an alpha to whoever opens the file)
  if (wish.kind == TextureKind::Packed) return std::max(3, static_cast<int>(wish.packed.size()));
  return factsOf(wish.kind).planes;
}

TextureRole roleOf(const TextureWish& wish) {
  return factsOf(wish.kind).role;
}

std::string suffixOf(const TextureWish& wish) {
  std::string out = wish.suffix;
  if (out.empty() && wish.kind == TextureKind::Measured) out = std::string(wish.measure.kind->key);
  if (out.empty() && wish.kind == TextureKind::Packed) out = joined(wish.packed, '-', suffixOf);
  if (out.empty()) {
    out = std::string(factsOf(wish.kind).suffix);
    if (wish.kind == TextureKind::Layer || wish.kind == TextureKind::Mask) out += std::to_string(wish.layer);
  }
  for (char& c : out)
    if (static_cast<unsigned char>(c) < 32 ||
        std::string_view("/\\:*?\"<>|. ").find(c) != std::string_view::npos)
      c = '-';
  return out;
}

Result<TextureWish> textureWishFrom(std::string_view text, float diagonal) {
  if (text.find('+') == std::string_view::npos) return oneFrom(text, diagonal);
  TextureWish out(TextureKind::Packed);
  for (size_t at = 0; at <= text.size();) {
    const size_t end = std::min(text.find('+', at), text.size());
    auto one = oneFrom(text.substr(at, end - at), diagonal);
    if (!one) return one;
    if (planesOf(*one) != 1 || roleOf(*one) != TextureRole::Data)
      return Error{fmt::format("'{}' is not one value from 0 to 1, so it cannot be packed",
                               text.substr(at, end - at))};
    out.packed.push_back(std::move(*one));
    at = end + 1;
  }
  if (out.packed.size() > 4) return Error{fmt::format("a picture holds four maps, '{}' are more", text)};
  return out;
}

std::string textOf(const TextureWish& wish) {
  switch (wish.kind) {
    case TextureKind::Measured:
      return std::string(wish.measure.kind->key);
    case TextureKind::Layer:
    case TextureKind::Mask:
      return fmt::format("{}:{}", factsOf(wish.kind).key, wish.layer);
    case TextureKind::Packed:
      return joined(wish.packed, '+', textOf);
    default:
      return std::string(factsOf(wish.kind).key);
  }
}

}  // namespace juvenor
