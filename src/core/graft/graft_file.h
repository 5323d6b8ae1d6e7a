// Grafts as EXR files with named channels: R, G, B and A as every program reads them (linear, premultiplied),
// `gloss` (0…1) and `relief` (millimetres), both not premultiplied, and the attribute `across`, millimetres
// of the longer side.
#pragma once

#include <filesystem>

#include "core/graft/graft.h"
#include "core/result.h"

namespace juvenor {

/// Writes beside the target and renames, so that a file that was there is whole whatever happens.
Outcome writeGraft(const Graft& graft, const std::filesystem::path& path);
/// Also files of others: without `across` a graft is `kUsualAcross` wide, without A it is whole, with a Z, Y
/// or height channel alone it is relief.
Result<Graft> readGraft(const std::filesystem::path& path);

inline constexpr float kUsualAcross = 40;

/// The user's box of grafts, below their data folder.
std::filesystem::path graftFolder();

}  // namespace juvenor
