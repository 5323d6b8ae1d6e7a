// Single parts of a sculpt that went out to be changed and come in again, and parts that are let go; all else
// of the work stays as it is, to the bit.
#pragma once

#include "core/carry/carry_over.h"

namespace juvenor {

/// The parts of `changed` in place of those of the same names (whatever the case); others join. `as`: when it
/// holds a single part, the name of the one it stands for; empty: its own. The error says what there is when
/// no name fits and nothing would be replaced.
Result<CarriedOver> withPartsBack(const Document& document, const Sculpt& changed, const std::string& as = {},
                                  const CarrySetting& setting = {}, const Progress& progress = {});

/// Without parts, those that were kept when a new sculpt had them no more, say. One stays at least.
Result<CarriedOver> withoutParts(const Document& document, const std::set<uint32_t>& parts,
                                 const Progress& progress = {});

}  // namespace juvenor
