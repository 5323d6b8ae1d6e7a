#include "core/document/landmark.h"

#include <algorithm>

namespace juvenor {

const std::array<LandmarkFacts, kLandmarkCount>& landmarkFacts() {
  static constexpr std::array<LandmarkFacts, kLandmarkCount> kFacts{{
      {"crown", "Crown", false, 0.50f, 0.06f},
      {"brow", "Brow centre", false, 0.50f, 0.36f},
      {"temple", "Temple", true, 0.84f, 0.38f},
      {"lid", "Upper lid", true, 0.67f, 0.43f},
      {"under-eye", "Under the eye", true, 0.67f, 0.53f},
      {"ear", "Ear", true, 0.96f, 0.50f},
      {"cheekbone", "Cheekbone", true, 0.77f, 0.60f},
      {"nose", "Nose tip", false, 0.50f, 0.62f},
      {"lip", "Lip", false, 0.50f, 0.745f},
      {"lip-corner", "Lip corner", true, 0.61f, 0.75f},
      {"jaw", "Jaw", true, 0.77f, 0.80f},
      {"chin", "Chin", false, 0.50f, 0.90f},
  }};
  return kFacts;
}

const LandmarkFacts* landmarkFacts(std::string_view key) {
  const auto found = std::ranges::find(landmarkFacts(), key, &LandmarkFacts::key);
  return found == landmarkFacts().end() ? nullptr : &*found;
}

}  // namespace juvenor
