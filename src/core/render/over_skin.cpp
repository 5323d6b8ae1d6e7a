#include "core/render/over_skin.h"

#include <algorithm>
#include <cmath>

#include "core/layers/ramp.h"
#include "core/render/squares.h"

namespace juvenor {
namespace {

// A pixel drawn toward a grey (0…255).
uint32_t mixedWith(uint32_t pixel, float grey, float cover) {
  uint32_t out = 0xff;
  for (int shift = 16; shift >= 0; shift -= 8) {
    const auto c = static_cast<float>(pixel >> shift & 0xff);
    out = out << 8 | static_cast<uint32_t>(c + cover * (grey - c) + 0.5f);
  }
  return out;
}

}  // namespace

const std::vector<Rgba16>& falseColors() {
  // so that it can be read without its hues
  static const std::vector<Rgba16> table = rampTable({{0, {0.12f, 0.10f, 0.32f}, 1},
                                                      {0.35f, {0.16f, 0.38f, 0.55f}, 1},
                                                      {0.65f, {0.33f, 0.65f, 0.48f}, 1},
                                                      {1, {0.98f, 0.92f, 0.48f}, 1}},
                                                     256);
  return table;
}

uint32_t toldAs(float value, bool falseColor) {
  const auto g = static_cast<uint32_t>(value * 255 + 0.5f);
  if (!falseColor) return 0xff000000u | g << 16 | g << 8 | g;
  const Rgba16& c = falseColors()[g];
  return 0xff000000u | static_cast<uint32_t>(c.r >> 8) << 16 | static_cast<uint32_t>(c.g >> 8) << 8 |
         c.b >> 8;
}

OverSkin::OverSkin(const ShadeInput& input, const ViewSize& size)
    : in_(input), lens_(input.sheet ? input.sheetCamera : input.camera, size) {}

// How much of a pixel the nearest line of its triangle covers: about a pixel wide whatever the distance, and
// gone where lines are too close together to be told apart.
float OverSkin::lineAt(uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
  constexpr float kStrength = 0.34f, kHalfWidth = 0.55f, kClosest = 3.5f;
  const Surface& seen = in_.sheet ? *in_.sheet : *in_.surface;
  const Triangle& t = seen.triangles[triangle];
  const float u = from16(weights[0]), v = from16(weights[1]);
  const std::array<float, 3> w{std::max(0.f, 1 - u - v), u, v};
  const std::array<const Vec3*, 3> p{&seen.positions[t[0]], &seen.positions[t[1]], &seen.positions[t[2]]};
  const Vec3 toward = lens_.toViewer(*p[0]);
  const float pixels = lens_.pixelsPerUnit(*p[0]);
  float cover = 0;
  for (size_t k = 0; k < 3; ++k) {
    if (!(in_.lines[triangle] >> k & 1)) continue;
    const Vec3 edge = *p[(k + 1) % 3] - *p[k], across = *p[(k + 2) % 3] - *p[k];
    // as the viewer sees it: flat on the picture
    const Vec3 e = edge - edge.dot(toward) * toward, a = across - across.dot(toward) * toward;
    const float length = e.norm() * pixels;
    if (!(length > kClosest)) continue;
    const float height = (a - a.dot(e) / e.squaredNorm() * e).norm() * pixels;
    const float away = w[(k + 2) % 3] * height;
    cover = std::max(cover, kStrength * std::min(1.f, (length - kClosest) / 4) *
                                std::clamp(kHalfWidth + 0.5f - away, 0.f, 1.f));
  }
  return cover;
}

// Squares over the skin, so that what lies below is still known.
uint32_t OverSkin::squared(uint32_t p, uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
  constexpr float kCover = 0.8f;
  const Triangle& t = in_.squares->triangles[triangle];
  if (t[0] == t[1]) return p;
  const float u = from16(weights[0]), v = from16(weights[1]);
  const auto at = [&](size_t k) -> const Vec3& { return in_.squares->positions[t[k]]; };
  const Vec3 place = (1 - u - v) * at(0) + u * at(1) + v * at(2);
  const float grey = 255 * greyOfSquare(place.head<2>());
  return mixedWith(p, grey, kCover);
}

uint32_t OverSkin::overlaid(uint32_t skin, uint32_t triangle, const std::array<uint16_t, 2>& weights, int x,
                            int y) const {
  if (!in_.overlay) return skin;
  const Triangle& t = in_.surface->triangles[triangle];
  const float u = from16(weights[0]), v = from16(weights[1]);
  const auto at = [&](uint32_t s) { return from16(in_.overlay->at(s)[0]); };
  const float value = std::clamp((1 - u - v) * at(t[0]) + u * at(t[1]) + v * at(t[2]), 0.f, 1.f);
  if (in_.overlayLook != OverlayLook::Mask) return toldAs(value, in_.overlayLook == OverlayLook::FalseColor);
  // two greys in stripes, so that it reads on dark and light skin alike
  return mixedWith(skin, (x + y) / 5 % 2 == 0 ? 0x58 : 0x98, 0.72f * (1 - value));
}

uint32_t OverSkin::over(uint32_t skin, uint32_t triangle, const std::array<uint16_t, 2>& weights, int x,
                        int y) const {
  uint32_t p = overlaid(skin, triangle, weights, x, y);
  if (in_.squares) p = squared(p, triangle, weights);
  if (in_.lines.empty() || !in_.lines[triangle]) return p;
  const float cover = lineAt(triangle, weights);
  if (cover <= 0) return p;
  // dark on light and light on dark
  const auto byte = [&](int shift) { return static_cast<float>(p >> shift & 0xff); };
  return mixedWith(p, 0.3f * byte(16) + 0.6f * byte(8) + 0.1f * byte(0) > 70 ? 20 : 190, cover);
}

}  // namespace juvenor
