// Steps of a script that take grafts into files and lay them.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> graftCommands();

}  // namespace juvenor::batch
