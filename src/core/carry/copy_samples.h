// Painted values of one place of the skin on another of the same skin, a motion away.
#pragma once

#include <functional>
#include <set>

#include "core/carry/twin.h"

namespace juvenor {

struct CopyGround {
  const Document& document;
  const CopySetting& setting;
  std::vector<uint32_t> samples;  ///< that are painted
  Similarity there;               ///< from them to where their values are
  /// The parts the values for one part may come from.
  std::function<std::set<uint32_t>(uint32_t part)> from;
  /// What was done by hand to patterns on the one part is done on the other as well; kNone: nothing is.
  uint32_t touchPart = kNone, touchTwin = kNone;
  /// In place of `there`, where the other side is found in a rest pose; null: it is not.
  const Mirrors* mirrors = nullptr;
};

Result<Copied> copiedSamples(const CopyGround& ground, const Progress& progress = {});

}  // namespace juvenor
