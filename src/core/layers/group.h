#pragma once

#include "core/layers/source.h"

namespace juvenor {

/// What a group does with the layers that lie in it (layers/nesting.h).
struct Group {
  /// They meet what lies below as if there were no group, which then shows by as much of the difference they
  /// made as its mask and opacity say; else they are put together by themselves first.
  bool passes = true;

  bool operator==(const Group&) const = default;
};

SourcePointer groupSource(Group group);
/// What a layer of the kind is set to, or null for others.
const Group* groupOf(const LayerSource& source);

}  // namespace juvenor
