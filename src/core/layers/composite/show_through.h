// How much of what lies below still shows through a layer: passes of paint should not bury each other.
#pragma once

#include "core/layers/composite/composite.h"

namespace juvenor {

struct ShowThrough {
  float covered = 0;   ///< 0…1: the part of the skin the layer lies on at all
  float shows = 1;     ///< 0…1: of what lies below there, the mean that still shows
  uint32_t below = 0;  ///< the layer whose paint was looked at; 0: all that lies below
  /// 65535 where all of what lies below shows, 0 where nothing does.
  std::shared_ptr<const ScalarField> field;
};

/// Through a layer of the stack (by id), mask and opacity counted, weighed by area. Looked at is the next
/// painted or worked-out layer of the same stratum below that the layer meets, where it has paint; without
/// one, all of the skin below. Blend modes that tint bury nothing and count as their amount.
Result<ShowThrough> showThrough(const PreparedStack& stack, uint32_t layer, const Surface& surface,
                                const EncodedColor& bare, const Progress& progress = {});

}  // namespace juvenor
