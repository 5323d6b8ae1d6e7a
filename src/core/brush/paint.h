// What a dab brings to the samples it reaches beside the pen's own values: a photo's colours, say. A paint
// may weaken the dab where it has nothing to bring.
#pragma once

#include "core/brush/footprint.h"

namespace juvenor {

class Paint {
 public:
  virtual ~Paint() = default;
  /// Fills in a footprint's lists, and weakens its weights.
  virtual void bring(const Surface& surface, const Dab& dab, Footprint& footprint) = 0;
};

}  // namespace juvenor
