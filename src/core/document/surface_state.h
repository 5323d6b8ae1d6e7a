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
  uint64_t parts = 0;  ///< the fingerprint of parts made here, 0: there are none

  auto operator<=>(const SurfaceState&) const = default;
};

nlohmann::json toJson(const std::vector<Refinement>& refinements);
nlohmann::json toJson(const Placement& placement);
/// "refinements" and "placement" of a step's state; the error says what is wrong.
Result<SurfaceState> surfaceOfState(const nlohmann::json& state);

/// The surface of a sculpt as its file gave it after its refinements, as it stands: what opening a document
/// does. `parts`: those made here; null: none.
Result<std::shared_ptr<const Surface>> surfaceAfter(const Sculpt& imported, const SurfaceState& state,
                                                    const PartLabels* parts = nullptr,
                                                    const Progress& progress = {});
/// The part of each triangle of a surface that comes from another, by those of its triangles.
std::vector<uint32_t> partsFromParents(std::span<const uint32_t> parents,
                                       std::span<const uint32_t> partOfParent);

}  // namespace juvenor
