// Of a document's state what it is shown by: cameras and variants.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace juvenor {

/// Adds them to a state; where there are none it says nothing.
void putShown(const Document& document, nlohmann::json& state);
/// Lists of a state into a document whose next numbers are read already. Layers a variant knows need not be
/// there.
Outcome readCameras(const nlohmann::json& cameras, Document& document);
Outcome readVariants(const nlohmann::json& variants, Document& document);

}  // namespace juvenor
