// Which parts of the old sculpt the skin of each new part comes from: those of the same name, and for the
// others those they lie on.
#pragma once

#include <set>

#include "core/carry/fit_by_pins.h"
#include "core/surface/rays/rays.h"

namespace juvenor {

/// For each part of the new sculpt the parts of the old one its skin may come from; none: it is new.
using PartSources = std::vector<std::set<uint32_t>>;

/// `reach`: scene units of the old sculpt within which skin lies on skin.
PartSources matchedParts(const Sculpt& fresh, const Surface& freshSurface, const Sculpt& old,
                         const Rays& oldRays, const Bend& bend, float reach);

/// Whatever the case of its letters.
bool sameName(std::string_view a, std::string_view b);

/// Old parts that no new one takes anything of.
std::vector<uint32_t> lostParts(const PartSources& sources, size_t oldParts);

}  // namespace juvenor
