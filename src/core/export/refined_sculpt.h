// The skin as a sculpt of its own, every point a vertex: what was painted on added points goes out without
// texture maps.
#pragma once

#include "core/document/document.h"
#include "core/sculpt/formats.h"

namespace juvenor {

/// Triangles over all samples, with the sculpt's parts and UV sets; vertices are samples, in their order, in
/// the sculpt's own axes.
Result<Sculpt> refinedSculpt(const Document& document, const Progress& progress = {});

/// 0, 1, 2 …: the samples its vertices are.
std::vector<uint32_t> allSamples(const Surface& surface);

/// What is handed on as a coloured sculpt.
struct ColouredSetting {
  bool allPoints = false;   ///< the added ones too
  bool withRelief = false;  ///< applied along the normals
  bool madeParts = false;   ///< parts that were made here, in place of those of the sculpt's file
};
/// Writes it by the ending of the file.
Outcome writeColoured(const std::filesystem::path& file, const Document& document, const ChannelFields& skin,
                      const ColouredSetting& setting, const Progress& progress = {});

}  // namespace juvenor
