#include "core/render/light_ball.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/render/shine.h"

namespace juvenor {
namespace {

constexpr float kAlbedo = 0.42f, kWidth = 0.12f;

Vec3 shownAt(const Vec3& n, const LitBy& by) {
  const float cosOut = std::max(1e-3f, n.z());
  const auto [scale, offset] = reflected(cosOut, kWidth);
  Vec3 out = (scale * kSkinReflectance + offset) * mirrored(by, 2 * n.z() * n - Vec3::UnitZ(), kWidth);
  const Harmonics y = harmonicsAt(n);
  for (size_t c = 0; c < 3; ++c) {
    float received = 0;
    for (size_t k = 0; k < 9; ++k)
      received += by.soft[c][k] * y[k] * kCosineLobe[static_cast<size_t>(kBand[k])];
    out[static_cast<int>(c)] += kAlbedo * std::max(0.f, received / std::numbers::pi_v<float>);
  }
  for (const LitBy::Source& lamp : by.lamps) {
    const float cosIn = n.dot(lamp.toward);
    if (cosIn <= 0) continue;
    const MirroredDisc disc = mirroredDisc(n, Vec3::UnitZ(), lamp.toward, lamp.size, kWidth);
    out += (cosIn * kAlbedo + disc.shine * schlick(kSkinReflectance, 1 - disc.away)) * lamp.strength;
  }
  return out;
}

}  // namespace

std::vector<uint32_t> lightBall(const Light& light, int edge) {
  std::vector<uint32_t> out(static_cast<size_t>(edge) * static_cast<size_t>(edge), 0);
  const LitBy by = litBy(light);
  const float exposure = std::exp2(light.exposure), radius = 0.5f * static_cast<float>(edge) - 0.5f;
  for (int py = 0; py < edge; ++py)
    for (int px = 0; px < edge; ++px) {
      const float x = (static_cast<float>(px) + 0.5f - 0.5f * static_cast<float>(edge)) / radius,
                  y = (0.5f * static_cast<float>(edge) - static_cast<float>(py) - 0.5f) / radius;
      const float rest = 1 - x * x - y * y;
      if (rest <= 0) continue;
      const Vec3 l = exposure * shownAt(Vec3(x, y, std::sqrt(rest)), by);
      uint32_t pixel = 0xff;
      for (int c = 0; c < 3; ++c)
        pixel = pixel << 8 | static_cast<uint32_t>(encodeSrgb(std::clamp(l[c], 0.f, 1.f)) * 255 + 0.5f);
      out[static_cast<size_t>(py * edge + px)] = pixel;
    }
  return out;
}

}  // namespace juvenor
