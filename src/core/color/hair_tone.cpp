#include "core/color/hair_tone.h"

#include <algorithm>

namespace juvenor {

Vec3 hairAbsorption(float eumelanin, float pheomelanin) {
  static const Vec3 kEumelanin(0.419f, 0.697f, 1.37f), kPheomelanin(0.187f, 0.4f, 1.05f);
  return std::clamp(eumelanin, 0.f, kMostMelanin) * kEumelanin +
         std::clamp(pheomelanin, 0.f, kMostMelanin) * kPheomelanin;
}

Vec3 hairTone(const Vec3& absorption) {
  // the fit at the roughness around the fibre that hair has as a rule
  constexpr float b = 0.3f;
  constexpr float kFit = 5.969f + b * (-0.215f + b * (2.532f + b * (-10.73f + b * (5.574f + b * 0.245f))));
  return (-kFit * absorption.cwiseMax(0.f).cwiseSqrt()).array().exp().matrix();
}

}  // namespace juvenor
