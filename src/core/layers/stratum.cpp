#include "core/layers/stratum.h"

#include <array>

namespace juvenor {
namespace {
constexpr std::array<std::string_view, 3> kStrata{"flesh", "pigment", "surface"};
}

std::string_view stratumKey(Stratum stratum) {
  return kStrata[static_cast<size_t>(stratum)];
}

std::optional<Stratum> stratumFromKey(std::string_view key) {
  for (size_t i = 0; i < kStrata.size(); ++i)
    if (kStrata[i] == key) return static_cast<Stratum>(i);
  return std::nullopt;
}

}  // namespace juvenor
