// Steps of a script about several layers: groups, merging.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> groupCommands();

}  // namespace juvenor::batch
