// The painter's brush roll: named brushes, those that ship and the artist's own sets. A roll keeps lengths in
// millimetres of skin; taken in hand a brush is fitted to the sculpt.
#pragma once

#include <filesystem>
#include <vector>

#include "core/brush/brush_json.h"

namespace juvenor {

struct RollBrush {
  std::string name;
  std::string ink = "lay";  ///< key of the ink it usually works with
  int stage = 2;            ///< of the course that brings it forward, 0 Base … 5 Finish
  Brush brush;              ///< lengths in millimetres
  bool operator==(const RollBrush&) const = default;
};
using BrushRoll = std::vector<RollBrush>;

/// The brushes that ship, fitted to a life-size head.
const BrushRoll& usualRoll();

/// A roll's brush in scene units of `millimetres` each. On a sculpt of no size a person could have (its
/// diagonal, scene units, is told) it is fitted as if that were a head.
Brush fitted(const Brush& brush, float millimetres, float diagonal);
/// The other way round: for keeping a brush that is in hand.
Brush inMillimetres(const Brush& brush, float millimetres, float diagonal);

/// A set as a file: JSON with its stamps inside; the format is described in docs/brushes.md.
Result<std::string> encodedRoll(const BrushRoll& roll);
/// The error says which brush is wrong and how.
Result<BrushRoll> decodedRoll(const std::string& text, const std::string& name);

/// The user's folder for sets, below their data folder.
std::filesystem::path brushFolder();

}  // namespace juvenor
