// Named points on a head from which hue zones are laid out. Sides are mirrored: one point stands for both.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/vec.h"

namespace juvenor {

struct Landmark {
  std::string key;
  Vec3 position = Vec3::Zero();  ///< scene units

  bool operator==(const Landmark& o) const { return key == o.key && position == o.position; }
};

struct LandmarkFacts {
  std::string_view key, label;
  bool paired;  ///< there is one on either side
  float x, y;   ///< where on the guide picture, 0…1 from the left and the top, on the side x ≥ 0.5
};
inline constexpr int kLandmarkCount = 12;
/// From the crown down, in the order they are best placed.
const std::array<LandmarkFacts, kLandmarkCount>& landmarkFacts();
const LandmarkFacts* landmarkFacts(std::string_view key);

}  // namespace juvenor
