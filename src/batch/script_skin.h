// Steps of a script for what skin is made of: masks, maps, ramps, hue zones, the board.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> skinCommands();

}  // namespace juvenor::batch
