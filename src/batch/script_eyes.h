// Steps of a script that set eyes.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> eyeCommands();

}  // namespace juvenor::batch
