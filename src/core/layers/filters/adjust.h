// What an adjust layer does to what lies below it, whatever that is: nothing has to be painted anew.
#pragma once

#include <nlohmann/json.hpp>
#include <vector>

#include "core/layers/source.h"

namespace juvenor {

struct Adjust {
  ChannelSet on = Channel::Color;  ///< of the others than colour, lightness, contrast and curve are felt
  float lightness = 0;             ///< −1 black … 1 white
  float contrast = 0;              ///< −1 one grey … 1 four times as steep around the middle
  float hue = 0;                   ///< degrees by which colours turn
  float saturation = 0;            ///< −1 grey … 1 twice as full
  EncodedColor tint{0.72f, 0.5f, 0.4f};
  float tinted = 0;  ///< 0…1: how far colours take its hue, as light as they were
  EncodedColor from{0.5f, 0.5f, 0.5f}, to{0.5f, 0.5f, 0.5f};
  float matched = 0;                        ///< 0…1: how far what was `from` comes to `to`
  std::vector<std::array<float, 2>> curve;  ///< of all three, from in to out, 0…1, ascending; empty: straight

  /// Whether it leaves colours as they are.
  bool changesNothing() const {
    return lightness == 0 && contrast == 0 && hue == 0 && saturation == 0 && tinted == 0 && matched == 0 &&
           curve.empty();
  }
  bool operator==(const Adjust&) const = default;
};

/// All of it but the curve, on encoded colours: each row times red, green, blue and 1.
struct ColorMatrix {
  std::array<std::array<float, 4>, 3> row{};
  EncodedColor of(const EncodedColor& c) const {
    const auto at = [&](size_t i) { return row[i][0] * c.r + row[i][1] * c.g + row[i][2] * c.b + row[i][3]; };
    return {at(0), at(1), at(2)};
  }
};
/// Hue and saturation as the W3C's filter effects have them; lightness toward black or white, contrast around
/// the middle grey, tint by its own colour at the same luma.
ColorMatrix matrixOf(const Adjust& adjust);

inline constexpr size_t kCurveSteps = 4097;
/// 0…65535 at even places from 0 to 1, through the points without swinging over them (Fritsch and Carlson
/// 1980); empty for a straight one.
std::vector<uint16_t> curveTable(const std::vector<std::array<float, 2>>& points);
/// What each of the 65,536 values becomes by such a table; empty for an empty one.
std::vector<uint16_t> curveOfValues(const std::vector<uint16_t>& table);

/// What contrast leaves where it is: of heights none, of others one half.
constexpr uint16_t middleOf(Channel channel) {
  return factsOf(channel).rule == ChannelRule::Add ? kLevel : 32767;
}
/// What each of the 65,536 values of a channel that is no colour becomes: contrast around `middle`,
/// lightness, then the curve.
std::vector<uint16_t> adjustedValues(const Adjust& adjust, uint16_t middle);
/// A sample's value after that, premultiplied by its cover as it was.
uint16_t adjustedValue(std::span<const uint16_t> becomes, const CoverChunk& chunk, size_t sample);
uint16_t adjustedValue(std::span<const uint16_t> becomes, const ScalarChunk& chunk, size_t sample);

/// One colour.
EncodedColor adjusted(const Adjust& adjust, const EncodedColor& color);
/// A chunk of opaque colours; `curve`: what each value becomes after that (curveOfValues), or nothing.
void adjustChunk(const ColorMatrix& matrix, std::span<const uint16_t> curve, const ColorChunk& below,
                 ColorChunk& out);

nlohmann::json toJson(const Adjust& adjust);

template <>
std::span<const Member<Adjust>> membersOf();

SourcePointer adjustSource(Adjust adjust);
/// What a layer of the kind is set to, or null for others.
const Adjust* adjustOf(const LayerSource& source);

}  // namespace juvenor
