// UV sets by the names people say.
#pragma once

#include <fmt/format.h>

#include "core/sculpt/sculpt.h"

namespace juvenor::batch {

/// The set of that name; the first when none is said.
inline Result<size_t> setOf(const Sculpt& sculpt, const std::string& name) {
  if (sculpt.uvSets.empty()) return Error{"has no UVs"};
  if (name.empty()) return size_t{0};
  std::string names;
  for (size_t i = 0; i < sculpt.uvSets.size(); ++i) {
    if (sculpt.uvSets[i].name == name) return i;
    names += (i > 0 ? ", " : "") + sculpt.uvSets[i].name;
  }
  return Error{fmt::format("has no UV set '{}'; it has: {}", name, names)};
}

}  // namespace juvenor::batch
