// Steps of a script about showing: cameras that are kept, variants of the skin.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> showCommands();

}  // namespace juvenor::batch
