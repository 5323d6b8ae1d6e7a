// Steps of a script about slides: placing them, throwing them, and painting through them.
#pragma once

#include "batch/script_command.h"
#include "core/brush/paints/slide.h"

namespace juvenor::batch {

std::span<const ScriptCommand> slideCommands();

/// What a stroke's "paint" says: {"slide": …, "part": …, "split": …}.
Result<SlidePaint> slidePaintIn(const nlohmann::json& said, const Document& document);

}  // namespace juvenor::batch
