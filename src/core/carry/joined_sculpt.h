// Sculpts put together from parts of two: a part that was changed elsewhere in place of its old self, lost
// parts kept beside a new sculpt, parts let go.
#pragma once

#include <functional>
#include <memory>
#include <set>

#include "core/sculpt/sculpt.h"

namespace juvenor {

/// `base` without some of its parts, and behind it those of `other` that are taken, `move`d from its space to
/// base's. Vertices of `base` keep their order; those only its dropped parts used go. Parts of one name
/// become one. UV sets and colours that only one of both has stay where they are and are nothing elsewhere.
Sculpt joinedSculpt(const Sculpt& base, const std::set<uint32_t>& without, const Sculpt& other,
                    const std::set<uint32_t>& taken, const std::function<Vec3(const Vec3&)>& move);

/// A sculpt of these parts alone.
Sculpt partsOf(const Sculpt& sculpt, const std::set<uint32_t>& parts);

}  // namespace juvenor
