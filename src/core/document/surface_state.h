// What makes a document's surface from its sculpt, and how files say it: the reader needs it before it knows
// the number of samples.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace juvenor {

struct SurfaceState {
  std::vector<Refinement> refinements;
  Placement placement;
  uint64_t shape = 0;  ///< as Document has it

  auto operator<=>(const SurfaceState&) const = default;
};

nlohmann::json toJson(const std::vector<Refinement>& refinements);
nlohmann::json toJson(const Placement& placement);
/// "refinements" and "placement" of a step's state; the error says what is wrong.
Result<SurfaceState> surfaceOfState(const nlohmann::json& state);

/// The surface of a sculpt after its refinements, as it stands: what opening a document does.
Result<std::shared_ptr<const Surface>> surfaceAfter(const Sculpt& sculpt, const SurfaceState& state,
                                                    const Progress& progress = {});

}  // namespace juvenor
