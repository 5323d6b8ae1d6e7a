// Rows of a binary PLY whose places are known beforehand, read side by side on all cores: vertices of one
// length, and faces of one list counted in a byte with numbers of fixed length around it.
#pragma once

#include "core/progress.h"
#include "core/sculpt/ply_header.h"
#include "core/sculpt/sculpt.h"

namespace juvenor {

/// Whether every row of these vertices has the same length and this machine's order of bytes. Places in
/// doubles are read otherwise, since they may be far from the origin.
bool isFixedPly(const PlyHeader& header, const PlyElement& vertices);

/// Reads such vertices from byte `at` on, which goes behind them, or to the row at fault. Normals and colours
/// are taken where `into` is `withNormals`, `withColors`; `uvs` receives coordinates if it is not null.
Outcome readFixedPlyVertices(std::string_view bytes, size_t& at, const PlyElement& vertices, bool withNormals,
                             bool withColors, Sculpt& into, std::vector<Vec2>* uvs);

/// Whether these faces are a list of corners counted in a byte, of numbers of four bytes, and beside it only
/// numbers.
bool isPlainPly(const PlyHeader& header, const PlyElement& faces);

/// Reads such faces with their parts from byte `at` on, which goes behind them, or to the row at fault.
Outcome readPlainPlyFaces(std::string_view bytes, size_t& at, const PlyElement& faces, Sculpt& into,
                          const Progress& progress);

}  // namespace juvenor
