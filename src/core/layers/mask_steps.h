// What is done to a layer's whole mask, step by step, and stays live: softened, sharpened, grown, shrunk,
// frayed or broken up by noise, in an order one can change. Below it the mask is still painted and follows
// its maps.
#pragma once

#include <functional>
#include <mutex>
#include <nlohmann/json.hpp>
#include <unordered_map>

#include "core/layers/plane_filter.h"

namespace juvenor {

struct MaskStep {
  enum class Way { Melt, Sharpen, Grow, Shrink, Contrast, Painterly, BreakUp };
  Way way = Way::Melt;
  float size = 1;       ///< scene units, as its facts say
  float amount = 0.5f;  ///< as its facts say
  uint32_t seed = 1;    ///< of Painterly and BreakUp

  bool operator==(const MaskStep&) const = default;
};
/// First comes first.
using MaskSteps = std::vector<MaskStep>;

struct MaskStepFacts {
  std::string_view key;      ///< in files and scripts
  std::string_view label;    ///< in the window
  std::string_view does;     ///< one line
  std::string_view size;     ///< what its size is, in the window; empty: it has none
  std::string_view amount;   ///< and its amount
  float least, most, usual;  ///< of the amount
  bool seeded;
};
std::span<const MaskStepFacts> maskStepFacts();
const MaskStepFacts& factsOf(MaskStep::Way way);

/// A step worked out on one surface.
class PreparedMaskStep {
 public:
  virtual ~PreparedMaskStep() = default;
  /// The chunks one comes from, ascending, with itself; empty: from itself alone.
  virtual std::span<const uint32_t> around(size_t /*chunk*/) const { return {}; }
  /// What becomes of a chunk; the first plane of `before` is the mask.
  virtual ScalarField::Pointer made(size_t chunk, const PlaneGround& before) const = 0;
};
using PreparedMaskSteps = std::vector<std::shared_ptr<const PreparedMaskStep>>;

/// May take long, and be cancelled (filters/mask_step.cpp).
Result<std::shared_ptr<const PreparedMaskSteps>> preparedSteps(SurfaceMaps& maps, const MaskSteps& steps,
                                                               const Progress& progress = {});
/// Whether that takes no longer than a pen may wait.
bool areStepsReady(SurfaceMaps& maps, const MaskSteps& steps);

/// Sets the marks of chunks that come from marked ones.
void markLookers(const PreparedMaskSteps& steps, std::vector<char>& marks);

/// A mask with its steps, chunk by chunk, remembered.
class SteppedMask {
 public:
  /// `plain` gives the mask before the first step; null: it shows all of the chunk.
  using Plain = std::function<ScalarField::Pointer(size_t chunk)>;
  SteppedMask(Plain plain, std::shared_ptr<const PreparedMaskSteps> steps);
  /// Never null; safe from any thread.
  ScalarField::Pointer at(size_t chunk) const;
  /// Takes over what another remembers of the same steps, but for what comes from chunks of the plain mask
  /// that are marked.
  void takeOver(const SteppedMask& other, std::vector<char> marks);

 private:
  class Level;
  ScalarField::Pointer at(size_t level, size_t chunk) const;

  Plain plain_;
  std::shared_ptr<const PreparedMaskSteps> steps_;
  mutable std::mutex mutex_;
  // after so many steps
  mutable std::vector<std::unordered_map<uint32_t, ScalarField::Pointer>> known_;
};

nlohmann::json toJson(const MaskSteps& steps);
/// The error names the step that is wrong.
Result<MaskSteps> maskStepsFrom(const nlohmann::json& list);

}  // namespace juvenor
