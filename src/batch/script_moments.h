// Steps of a script about moments of the work: keeping a checkpoint, bringing it back.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> momentCommands();

}  // namespace juvenor::batch
