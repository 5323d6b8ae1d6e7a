// The mesh that wears the maps, as a file that other programs open with everything on it.
#pragma once

#include "core/textures/hand_on.h"

namespace juvenor {

/// GLB: base colour, metallic–roughness, normal and occlusion are baked into it, a material for each part
/// (and tile), tangents and vertex colours go along. OBJ: names the maps that were written beside it. Where
/// only some tiles were baked, what lies in others has a material without pictures.
Outcome writeTexturedMesh(const std::filesystem::path& file, const HandOn& wish, const BakeGround& ground,
                          std::span<const int> tiles, bool manyTiles, const Progress& progress = {});

}  // namespace juvenor
