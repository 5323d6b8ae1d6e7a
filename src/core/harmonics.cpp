#include "core/harmonics.h"

#include <cmath>
#include <numbers>

namespace juvenor {

Harmonics harmonicsAt(const Vec3& d) {
  const float x = d.x(), y = d.y(), z = d.z();
  return {0.282095f,
          0.488603f * y,
          0.488603f * z,
          0.488603f * x,
          1.092548f * x * y,
          1.092548f * y * z,
          0.315392f * (3 * z * z - 1),
          1.092548f * x * z,
          0.546274f * (x * x - y * y)};
}

Harmonics projected(const std::function<float(const Vec3&)>& radiance) {
  constexpr int kCount = 4096;
  std::array<double, 9> sum{};
  for (int i = 0; i < kCount; ++i) {
    // Fibonacci points on the sphere
    const double z = 1 - (2 * i + 1) / static_cast<double>(kCount);
    const double r = std::sqrt(1 - z * z), angle = i * std::numbers::pi * (3 - std::sqrt(5.0));
    const Vec3 d(static_cast<float>(r * std::cos(angle)), static_cast<float>(r * std::sin(angle)),
                 static_cast<float>(z));
    const Harmonics y = harmonicsAt(d);
    const double l = radiance(d);
    for (size_t k = 0; k < 9; ++k) sum[k] += l * y[k];
  }
  Harmonics out;
  for (size_t k = 0; k < 9; ++k) out[k] = static_cast<float>(sum[k] * 4 * std::numbers::pi / kCount);
  return out;
}

}  // namespace juvenor
