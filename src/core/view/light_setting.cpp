#include "core/view/light_setting.h"

#include <algorithm>

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 3> kLightKinds{"overcast", "lamps", "surroundings"};

}  // namespace

std::string_view lightKindKey(LightKind kind) {
  return kLightKinds[static_cast<size_t>(kind)];
}

std::optional<LightKind> lightKindFromKey(std::string_view key) {
  const auto found = std::ranges::find(kLightKinds, key);
  if (found == kLightKinds.end()) return std::nullopt;
  return static_cast<LightKind>(found - kLightKinds.begin());
}

std::array<Lamp, kLampCount> usualLamps() {
  return {{{true, -75, 38, 1.15f, 9, 5200},
           {true, 20, 8, 0.22f, 50, 7000},
           {true, 165, 28, 1.3f, 12, 8000},
           {false, -25, 30, 1, 5, 6500, true}}};
}

}  // namespace juvenor
