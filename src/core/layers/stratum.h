// The three strata of skin.
#pragma once

#include <optional>
#include <string_view>

namespace juvenor {

/// From deep to outermost; layers of a higher stratum always lie above those of a lower one.
enum class Stratum { Flesh, Pigment, Surface };

std::string_view stratumKey(Stratum stratum);
std::optional<Stratum> stratumFromKey(std::string_view key);

}  // namespace juvenor
