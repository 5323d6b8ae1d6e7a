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
  static constexpr int kMostAmounts = 4;
  /// What a node's values are multiples of: logarithms (base 2) of the ratio of (encoded + 0.055), the root
  /// of light.
  static constexpr float kStep = 4.f / 32768;
  static constexpr float kFoot = 0.055f;
  /// Where a node keeps what a colour moves by at an amount (0, 1 …), so that products of neighbours add up.
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

  /// `amounts`: at how many even parts of the whole amount nodes say what a colour moves by, 2 or 4. Two do
  /// for blood, which moves colours nearly by a parabola; melanin grows by powers, and yellow stops at none.
  SkinTint(int amounts, std::vector<int16_t> nodes) : amounts_(amounts), nodes_(std::move(nodes)) {}

  /// The colour, straight and encoded, with `amount` (0…1) of the matter more or less in it.
  EncodedColor operator()(const EncodedColor& below, float amount) const;
  int amounts() const { return amounts_; }
  /// Of numbers for each node.
  size_t stride() const { return 4 * static_cast<size_t>(amounts_); }
  /// Those of node (bright, green, blue) begin at stride · ((bright · kRatios + green) · kRatios + blue).
  std::span<const int16_t> nodes() const { return nodes_; }

  /// How much of what stands at each part makes that at an amount: Lagrange's polynomials through nothing and
  /// the parts.
  std::array<float, kMostAmounts> weightsAt(float amount) const;

 private:
  int amounts_;
  std::vector<int16_t> nodes_;
};

}  // namespace juvenor
