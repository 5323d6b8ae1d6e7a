// What `juvenor-batch kinds` prints: every kind of layer with the numbers it is set to, from their tables.
#pragma once

#include <string>

namespace juvenor::batch {

/// Markdown; docs/kinds.md is this.
std::string kindsText();

}  // namespace juvenor::batch
