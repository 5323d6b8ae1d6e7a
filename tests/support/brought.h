// A map in a file as one is brought back, with the range that stands beside it.
#pragma once

#include "core/textures/bring_maps.h"

namespace juvenor::test {

inline BroughtMap brought(BringAs as, const std::filesystem::path& file) {
  BroughtMap out;
  out.as = as;
  out.tiles = tilesBeside(file);
  if (const auto range = heightRangeBeside(file)) out.heightRange = *range;
  return out;
}

}  // namespace juvenor::test
