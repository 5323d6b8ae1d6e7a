// How much of the machine's memory the steps of the work may take: a setting of the artist's.
#pragma once

#include <cstddef>

namespace juvenor::app {

/// In percent of the machine's memory.
inline constexpr int kHistoryShares[] = {12, 25, 50, 75};

int historyShare();
void setHistoryShare(int percent);
/// The bytes of that share.
size_t historyBudget(int percent = historyShare());

}  // namespace juvenor::app
