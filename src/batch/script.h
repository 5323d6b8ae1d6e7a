// A script of edits as JSON, run on a history one after the other; described in docs/scripts.md. A new edit
// is one function and one line in the table of commands of the file it belongs to: script_skin, script_slide,
// …, or here when it is about the stack.
#pragma once

#include "batch/script_command.h"
#include "core/document/history.h"

namespace juvenor::batch {

/// What steps may ask for, "undo" and "redo" aside.
std::vector<const ScriptCommand*> scriptCommands();

/// Runs every step of `script` (an array, or an object with "steps"). The error names the step by its number
/// and what it does; `history` then holds what came before it.
Outcome runScript(const nlohmann::json& script, History& history);

}  // namespace juvenor::batch
