// Names of parts as formats hold them that tell parts by name, a line each.
#pragma once

#include "core/sculpt/sculpt.h"

namespace juvenor {

/// One for each part: line breaks and other control characters become blanks, and of equal names the second
/// is "Eye 2", so that parts which are two come back as two.
std::vector<std::string> writtenNames(const Sculpt& sculpt);

}  // namespace juvenor
