// The registry of sculpt formats: reading by file ending, writing by file ending. A new format is one file
// here and one line in formats.cpp.
#pragma once

#include <filesystem>
#include <span>
#include <string>
#include <vector>

#include "core/files.h"
#include "core/progress.h"
#include "core/sculpt/material.h"
#include "core/sculpt/sculpt.h"

namespace juvenor {

/// One more number a vertex, by name.
struct VertexNumbers {
  std::string name;  ///< lower case: "gloss"
  std::vector<float> values;
};

/// What is handed on beside the sculpt: arrays have one entry per vertex, or are empty.
struct VertexFinish {
  std::vector<Vec3> normals;   ///< unit length
  std::vector<Rgba16> colors;  ///< opaque, sRGB-encoded
  std::vector<VertexNumbers> numbers = {};
};

Result<Sculpt> readObj(std::string_view text, const std::string& where, const Progress& progress = {});
Result<Sculpt> readPly(std::string_view bytes, const std::string& where, const Progress& progress = {});
/// `folder` is where a .gltf finds its buffers. Node transforms are applied; nodes become parts.
Result<Sculpt> readGltf(std::string_view bytes, const std::string& where, const std::filesystem::path& folder,
                        const Progress& progress = {});
Result<Sculpt> readStl(std::string_view bytes, const std::string& where, const Progress& progress = {});

/// Colours as `v x y z r g b`, 0…1, sRGB-encoded; the format has no place for numbers.
std::string writeObj(const Sculpt& sculpt, const VertexFinish& finish);
/// Binary little endian; colours as 8-bit red, green, blue, sRGB-encoded; numbers as float properties; parts
/// as a face property `part` that comment lines name.
std::string writePly(const Sculpt& sculpt, const VertexFinish& finish);
/// The same with materials, which a library file beside it describes; `library` is its name. UVs stay in
/// their tiles.
std::string writeTexturedObj(const Sculpt& sculpt, const VertexFinish& finish, const MaterialSet& materials,
                             const std::string& library);
std::string writeMtl(const MaterialSet& materials);
/// glTF 2.0 binary; COLOR_0 is linear, 16 bits normalised, as the standard demands; numbers become attributes
/// of the application's own, like _GLOSS; polygons become triangles and vertices are split where UVs differ.
Result<std::string> writeGlb(const Sculpt& sculpt, const VertexFinish& finish);
/// The same with materials by the sculpt's first UV set, which pictures go into the file. Vertex colours
/// would be multiplied with a material's base colour: where there is one they become _COLOR.
Result<std::string> writeTexturedGlb(const Sculpt& sculpt, const VertexFinish& finish,
                                     const MaterialSet& materials);

/// Reads by ending: obj, ply, glb, gltf, stl (any case).
Result<Sculpt> readSculpt(const std::filesystem::path& path, const Progress& progress = {});
/// Writes by ending: obj, ply, glb.
Outcome writeSculpt(const std::filesystem::path& path, const Sculpt& sculpt, const VertexFinish& finish);

/// A file's ending in lower case, without the dot.
std::string endingOf(const std::filesystem::path& path);
/// Endings without the dot, for dialogs.
std::vector<std::string> readableSculptEndings();
std::vector<std::string> writableSculptEndings();

}  // namespace juvenor
