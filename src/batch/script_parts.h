// Commands that make parts of the sculpt here, join, rename and let them go.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> partCommands();

}  // namespace juvenor::batch
