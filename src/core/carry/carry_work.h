// A document's work on another skin, where each of its samples comes from being known.
#pragma once

#include "core/carry/carry_over.h"
#include "core/carry/correspondence.h"
#include "core/carry/new_surface.h"

namespace juvenor {

struct CarryGround {
  const Document& old;
  const NewSurface& fresh;
  const Correspondence& from;
  const PartSources& sources;
  const NewPlaces& places;
  const Bend& bend;
};

/// `out` has the new sculpt and surface; everything else of it is still the old document's. Lines of what
/// found no place are added to `left`.
Outcome carryWork(const CarryGround& ground, Document& out, std::vector<std::string>& left,
                  const Progress& progress = {});

}  // namespace juvenor
