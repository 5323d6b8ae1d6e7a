// Hair as it leaves the program: lines from root to tip, in the sculpt's own axes, each layer by its name.
#pragma once

#include <filesystem>

#include "core/document/document.h"
#include "core/hair/fibres.h"

namespace juvenor {

/// Wavefront OBJ: `v x y z r g b` (0…1, sRGB-encoded) and an `l` a fibre.
std::string hairAsObj(const Document& document, const Fibres& fibres);

/// glTF 2.0 binary: a mesh of lines a layer, with COLOR_0 (linear) and _RADIUS, in the sculpt's units.
Result<std::string> hairAsGlb(const Document& document, const Fibres& fibres);

/// Writes what grows on a document by the ending of the file: obj or glb. An error when nothing does.
Outcome writeHair(const std::filesystem::path& file, const Document& document, const Progress& progress = {});

}  // namespace juvenor
