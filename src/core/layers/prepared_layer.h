// Layers worked out on a surface, so that compositing a chunk can neither fail nor wait. What cannot be
// worked out is told, layer by layer; such a layer shows nothing until it can be.
#pragma once

#include <vector>

#include "core/layers/layer.h"

namespace juvenor {

class BelowChunks;
struct PreparedLayer;
/// Bottom first, one for each layer.
using PreparedStack = std::vector<PreparedLayer>;

/// A mask that is worked out from other layers, chunk by chunk.
class LiveMask {
 public:
  virtual ~LiveMask() = default;
  /// Null: it hides all of the chunk. Safe from any thread.
  virtual ScalarField::Pointer at(size_t chunk) const = 0;
  /// What covers where it shows: a layer, or a group with what lies in it.
  virtual const PreparedStack& item() const = 0;
};

struct PreparedLayer {
  LayerPointer layer;
  PreparedSourcePointer source;             ///< null: it shows nothing
  std::shared_ptr<const ScalarField> maps;  ///< the mask its terms give; null: they hide nothing
  std::optional<Error> trouble;             ///< why it shows nothing though it should
  bool waiting = false;                     ///< that takes time; it shows what it was before, if anything
  std::vector<MapPointer> held;  ///< the surface maps it is made from, kept as long as it is in use
  /// Of sources that look around: what lies below, remembered; null: not yet (below_chunks.h).
  std::shared_ptr<const BelowChunks> below = nullptr;
  /// What the layer it takes its mask from covers; null: it takes none, or is not linked yet.
  std::shared_ptr<const LiveMask> live = nullptr;
  /// What is done to its mask; null: nothing.
  std::shared_ptr<const PreparedMaskSteps> steps = nullptr;
  /// All its mask after those, remembered; null: there are none, or it is not linked yet.
  std::shared_ptr<const SteppedMask> stepped = nullptr;
};

/// Whether a layer would be seen where nothing around it is hidden (nesting.h: takesPart).
inline bool contributes(const Layer& layer) {
  return layer.visible && layer.opacity > 0;
}

/// Works out every layer that takes part, and `also` (an id) when it does not. What `before` holds, from the
/// same surface, is taken over by what it was made from: a source that is the same is not prepared again,
/// whatever else of its layer changed, nor is a mask from the same maps. The only error is a cancel.
Result<PreparedStack> prepared(const LayerStack& layers, SurfaceMaps& maps, const Progress& progress = {},
                               const PreparedStack& before = {}, uint32_t also = 0);
/// The same without waiting: layers that would take time are marked as waiting, and stay as `before` had
/// them.
PreparedStack preparedNow(const LayerStack& layers, SurfaceMaps& maps, const PreparedStack& before);

/// The surface maps that layers are made from, hidden ones too.
std::vector<MapSetting> mapsNeeded(const LayerStack& layers);

/// The first layer's trouble, naming the layer; for who must not go on without it.
Outcome withoutTrouble(const PreparedStack& stack);

/// A layer's painted mask, its mask from maps and the one it takes from another layer in one for a chunk,
/// after its steps; null where all of it shows. `scratch` holds what lies nowhere else.
const ScalarChunk* shownChunk(const PreparedLayer& layer, size_t index, ScalarChunk& scratch);
/// The same before its steps, whether it is off or not.
const ScalarChunk* plainChunk(const PreparedLayer& layer, size_t index, ScalarChunk& scratch);
/// What of it is left to hide what the layer holds by itself: null too where its source thins by the mask.
const ScalarChunk* maskChunk(const PreparedLayer& layer, size_t index, ScalarChunk& scratch);

/// Whether its mask is the painted one alone, if any, as it is.
inline bool isPainted(const PreparedLayer& layer) {
  return !layer.maps && !layer.live && !layer.stepped && !layer.layer->maskOff;
}

/// Sets chunks of `mask` to what they hide together, on all cores.
void updateMask(ScalarField& mask, const PreparedLayer& layer, std::span<const uint32_t> chunks);
/// All of it.
ScalarField wholeMask(const PreparedLayer& layer, size_t samples);

}  // namespace juvenor
