// Parts made here: a part of the sculpt comes apart into loose shells, islands of UVs or what a mask shows,
// and parts are joined, renamed and let go again. No sample moves, what is painted stays to the bit; what
// layers tie to a part is tied to what stands for it.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// Pieces of what belongs together without touching anything else of the part: polygons that share places.
/// The largest keeps the part's name.
Result<Document> withShellsApart(const Document& document, uint32_t part, const Progress& progress = {});
/// Pieces of what hangs together in a UV set (an index of the document's sculpt's).
Result<Document> withIslandsApart(const Document& document, uint32_t part, size_t uvSet,
                                  const Progress& progress = {});
/// Polygons of which the field says more than half become a part of this name, one in each part they lie in;
/// parts that lie in it as a whole stay as they are.
Result<Document> withPartWhere(const Document& document, const ScalarField& where, const std::string& name,
                               const Progress& progress = {});
/// What a mask hides (of a layer), or with kGuard what is guarded, as the field for that.
Result<ScalarField> hiddenByMask(const Document& document, uint32_t id);
/// The second joins the first; both lie in one part of the file.
Result<Document> withPartsJoined(const Document& document, uint32_t part, uint32_t other,
                                 const Progress& progress = {});
Result<Document> withPartRenamed(const Document& document, uint32_t part, const std::string& name);
/// The parts its file has.
Result<Document> withFileParts(const Document& document, const Progress& progress = {});

/// The document with these parts, nothing grown anew yet. `made`: of the sculpt as its file gave it.
Result<Document> withMadeParts(const Document& document, MadeParts made, const Progress& progress = {});

}  // namespace juvenor
