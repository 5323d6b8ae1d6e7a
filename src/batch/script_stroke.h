// A stroke as a script has it: an ink, a brush, and points in the scene with pressure.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace juvenor::batch {

/// The document with the stroke on it. Points are moved to the nearest place on the surface; one that is
/// farther away than the brush lifts the pen. `activePart` kNone paints whatever part is met.
Result<Document> withScriptedStroke(const nlohmann::json& step, const Document& document, uint32_t layer,
                                    uint32_t activePart);

/// The document with one dab of a brush on it, placed at a point and turned along a direction. An error when
/// nothing lies near the point.
Result<Document> withScriptedStamp(const nlohmann::json& step, const Document& document, uint32_t layer,
                                   uint32_t activePart);

}  // namespace juvenor::batch
