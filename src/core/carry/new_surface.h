// The surface of the sculpt all is carried to, with the points that were added before added again, and for
// each of its samples what it was on the old skin.
#pragma once

#include "core/carry/fit_by_pins.h"
#include "core/carry/new_places.h"
#include "core/carry/same_polygons.h"
#include "core/document/document.h"

namespace juvenor {

struct NewSurface {
  std::shared_ptr<const Surface> surface;  ///< as it stands
  std::vector<Refinement> refinements;
  std::shared_ptr<const NewPlaces::Was> was;
  std::vector<uint32_t> exactly;  ///< the old sample each is, kNone where it is none
};

/// `fresh`: the new surface without added points, on its sculpt's own axes.
Result<NewSurface> newSurface(const Document& old, const Sculpt& freshSculpt,
                              std::shared_ptr<const Surface> fresh, const SamePolygons& same,
                              const Placement& placement, const Bend& bend, const Progress& progress = {});

}  // namespace juvenor
