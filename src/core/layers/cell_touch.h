// What a press on a single scale did to it. Kept by the place that was pressed, so that it goes to the scale
// that lies there, whatever else of the pattern changes.
#pragma once

#include <nlohmann/json.hpp>
#include <span>
#include <vector>

#include "core/color/srgb.h"
#include "core/growth/cell_places.h"
#include "core/result.h"

namespace juvenor {

struct CellTouch {
  enum class Kind {
    Tint,    ///< toward a colour by the amount
    Lift,    ///< lighter or darker: Oklab lightness by the amount, −1…1
    Lose,    ///< gone: what lies below shows
    Restore  ///< as it was before all earlier touches
  };
  Kind kind = Kind::Tint;
  Vec3 place = Vec3::Zero();  ///< on the skin, in the scene's axes
  uint32_t part = 0;
  EncodedColor color;
  float amount = 1;

  bool operator==(const CellTouch&) const = default;
};

/// All touches of one cell together.
struct TouchedCell {
  uint32_t cell = 0;
  EncodedColor tint;
  float tinted = 0;  ///< 0…1
  float light = 0;   ///< −1…1
  bool lost = false;

  bool operator==(const TouchedCell&) const = default;
};

/// What touches come to on the cells that lie where they were, in ascending order of cells. Those that lie
/// beside all cells are nothing.
std::vector<TouchedCell> touchedCells(const Surface& surface, const CellPlaces& places,
                                      std::span<const CellTouch> touches);

/// "tint", "lift", "lose", "restore".
std::string_view touchKey(CellTouch::Kind kind);

nlohmann::json toJson(const std::vector<CellTouch>& touches);
Result<std::vector<CellTouch>> cellTouchesFrom(const nlohmann::json& json);

}  // namespace juvenor
