// Parts that were made on the old sculpt made again on the new one: by number where the polygons are the
// same, elsewhere by what the middle of each polygon lies on.
#pragma once

#include "core/carry/match_parts.h"
#include "core/document/document.h"

namespace juvenor {

struct PartsBefore {
  const Document& old;         ///< with the parts that were made
  const Rays& rays;            ///< of its skin
  const PartSources& sources;  ///< by parts of the files
  const Bend& bend;
  float reach;  ///< scene units of the old sculpt
};

/// `carried` has the new sculpt with its file's parts.
Result<Document> withPartsAgain(const Document& carried, const PartsBefore& before,
                                const Progress& progress = {});

}  // namespace juvenor
