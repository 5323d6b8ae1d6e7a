// The stamps that ship: drawn by formulas, the same every time.
#pragma once

#include <span>
#include <string_view>

#include "core/brush/stamp.h"

namespace juvenor {

struct MadeStamp {
  std::string_view key;    ///< in files and scripts: "pores"
  std::string_view label;  ///< in the window: "Pores"
};

/// In the order they are offered.
std::span<const MadeStamp> madeStamps();
/// Drawn on first use and kept; 512 pixels wide. Null when there is none of that key. Any thread may ask.
StampPointer madeStamp(std::string_view key);

}  // namespace juvenor
