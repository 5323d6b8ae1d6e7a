// The inks this program knows.
#include <algorithm>

#include "core/brush/ink.h"

namespace juvenor {
namespace {

constexpr InkKind kInks[] = {
    {"lay", "Lay", true, false, makeLayInk},
    {"blend", "Blend", false, false, makeBlendInk},
    {"smear", "Smear", false, false, makeSmearInk},
    {"erase", "Erase", false, false, makeEraseInk},
    {"restore", "Restore", true, true, makeRestoreInk},
};

}  // namespace

std::span<const InkKind> inkKinds() {
  return kInks;
}

const InkKind* inkKind(std::string_view key) {
  const auto found = std::ranges::find(kInks, key, &InkKind::key);
  return found == std::end(kInks) ? nullptr : &*found;
}

}  // namespace juvenor
