// Steps of a script about texture maps.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> mapCommands();

}  // namespace juvenor::batch
