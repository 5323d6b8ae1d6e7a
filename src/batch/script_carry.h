// What scripts ask of carrying: onto a changed sculpt, single parts back, parts let go, onto twins.
#pragma once

#include "batch/script_command.h"

namespace juvenor::batch {

std::span<const ScriptCommand> carryCommands();

}  // namespace juvenor::batch
