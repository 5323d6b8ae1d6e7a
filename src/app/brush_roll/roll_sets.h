// The brush roll as it lies before the artist: the brushes that ship, then those that were kept, which are
// written to the user's folder as soon as they change.
#pragma once

#include "core/brush/brush_roll.h"

namespace juvenor::app {

/// The kept brushes; none when there is no file yet. Waits for the disk.
Result<BrushRoll> keptBrushes();
Outcome keepBrushes(const BrushRoll& roll);
/// Puts a file that cannot be read out of the way, so that nothing is written over it; where it is then.
Result<std::filesystem::path> putBrushesAside();

}  // namespace juvenor::app
