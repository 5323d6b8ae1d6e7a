// Materials of an OBJ file from the libraries beside it.
#pragma once

#include <filesystem>

#include "core/sculpt/material.h"
#include "core/sculpt/sculpt.h"

namespace juvenor {

/// Puts what libraries in `folder` say in the place of the names that reading the OBJ left: of a sculpt whose
/// `materials` name the libraries as pictures without bytes. Without a picture the sculpt has no materials
/// then; what is missing becomes a remark.
void readMaterialLibraries(Sculpt& sculpt, const std::filesystem::path& folder);

}  // namespace juvenor
