// What becomes of a colour when melanin, blood or yellow is added to the skin it is, or lifted out of it. The
// colour is found in the skin model, moved there, and what it was off the model by is kept as a ratio of
// light. The farther a colour is from any skin, the more it shifts as one reference tone does, by an even
// film (Beer-Lambert), so that creatures flush too. Looked up in a table of encoded colours, tetrahedron by
// tetrahedron (Kasson, Nin, Plouffe, Hafner 1995).
#pragma once

#include <span>
#include <vector>

#include "core/color/skin_tone.h"

namespace juvenor {

enum class SkinMatter { Blood, Melanin, Yellow };

/// Colours moved by a part of half a unit of a control of SkinTone (see there), for any part 0…1.
class SkinTint {
 public:
  static constexpr float kUnit = 0.5f;              ///< what the whole amount moves a control of SkinTone by
  static constexpr int kBright = 65, kRatios = 41;  ///< nodes along the axes
  static constexpr int kAmounts = 4;                ///< 1/4, 2/4, 3/4 and the whole amount
  /// What a node's values are multiples of: logarithms (base 2) of the ratio of (encoded + 0.055), the root
  /// of light.
  static constexpr float kStep = 4.f / 32768;
  static constexpr float kFoot = 0.055f;
  using Node = std::array<int16_t, 4 * kAmounts>;
  /// Where a node keeps what a colour moves by at an amount (0…3), so that products of neighbours add up.
  static constexpr size_t place(size_t amount, size_t color) {
    return 8 * (amount / 2) + 2 * color + amount % 2;
  }

  /// The table's axes, of roots of light (encoded + 0.055): the square root of red from black to white, and
  /// the ratios of green to red and blue to green. What lies beyond the ratios is no skin and reads as their
  /// ends.
  static constexpr float kBrightLow = 0.23452079f, kBrightHigh = 1.02713192f;
  static constexpr float kRatioLow = 0.64f, kRatioHigh = 1.16f;

  /// The table of one matter, added or lifted. All are made on first use, in about a second; any thread may
  /// ask.
  static const SkinTint& of(SkinMatter matter, bool lift);
  /// Makes the tables now, where nobody waits.
  static void prepare();

  explicit SkinTint(std::vector<Node> nodes) : nodes_(std::move(nodes)) {}

  /// The colour, straight and encoded, with `amount` (0…1) of the matter more or less in it.
  EncodedColor operator()(const EncodedColor& below, float amount) const;
  /// Node (red, green, blue) is at (red · 33 + green) · 33 + blue.
  std::span<const Node> nodes() const { return nodes_; }

  /// How much of what stands at 1/4, 2/4, 3/4 and the whole makes that at an amount: Lagrange's polynomials.
  static std::array<float, kAmounts> weightsAt(float amount);

 private:
  std::vector<Node> nodes_;
};

}  // namespace juvenor
