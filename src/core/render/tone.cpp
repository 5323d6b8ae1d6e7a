#include "core/render/tone.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/color/srgb.h"

namespace juvenor {
namespace {

constexpr float kStraight = 0.75f, kAbove = 1 - kStraight;

float shoulder(float v) {
  return v <= kStraight ? v : kStraight + kAbove * (1 - std::exp(-(v - kStraight) / kAbove));
}

float fromShoulder(float v) {
  // a byte of 255 stands for all that is brighter
  constexpr float kBrightest = 1 - 1e-6f;
  return v <= kStraight ? v
                        : kStraight - kAbove * std::log(1 - (std::min(v, kBrightest) - kStraight) / kAbove);
}

// Linear 0…1 to encoded 0…255.
float encoded255(float linear) {
  constexpr float kSteps = 16384;
  static const std::vector<float> table = [] {
    std::vector<float> t(static_cast<size_t>(kSteps) + 2);
    for (size_t i = 0; i < t.size(); ++i) t[i] = 255 * encodeSrgb(static_cast<float>(i) / kSteps);
    return t;
  }();
  const float at = kSteps * std::clamp(linear, 0.f, 1.f);
  const auto i = static_cast<size_t>(at);
  return table[i] + (at - static_cast<float>(i)) * (table[i + 1] - table[i]);
}

// The curve keeps hues; what is far too bright goes to white.
Vec3 bent(const Vec3& light) {
  const float brightest = light.maxCoeff(), top = shoulder(brightest);
  if (!(brightest > top)) return light;
  const float white = std::min(0.6f, 0.12f * (brightest - top));
  const Vec3 out = top / brightest * light;
  return out + white * (Vec3::Constant(top) - out);
}

}  // namespace

float ditherAt(int x, int y) {
  constexpr float kMargin = 1.f / 64;
  const auto fraction = [](float v) { return v - std::floor(v); };
  const float noise = fraction(
      52.9829189f * fraction(0.06711056f * static_cast<float>(x) + 0.00583715f * static_cast<float>(y)));
  return kMargin + (1 - 2 * kMargin) * noise;
}

Vec3 shownAs(const Vec3& light, Toning toning) {
  return toning == Toning::Light ? bent(light) : light;
}

uint32_t toned(const Vec3& light, Toning toning, int x, int y) {
  const Vec3 shown = shownAs(light, toning);
  const float up = toning == Toning::Light ? ditherAt(x, y) : 0.5f;
  uint32_t out = 0xff;
  for (int c = 0; c < 3; ++c)
    out = out << 8 | static_cast<uint32_t>(std::min(255.f, encoded255(shown[c]) + up));
  return out;
}

Vec3 untoned(uint32_t pixel, Toning toning) {
  Vec3 out;
  for (int c = 0; c < 3; ++c)
    out[c] = decodeSrgb16(static_cast<uint16_t>((pixel >> (16 - 8 * c) & 0xff) * 257));
  if (toning == Toning::Plain) return out;
  const float brightest = out.maxCoeff();
  return brightest > kStraight ? Vec3(fromShoulder(brightest) / brightest * out) : out;
}

}  // namespace juvenor
