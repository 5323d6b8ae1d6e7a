#include "core/layers/filters/adjust.h"

#include <algorithm>
#include <cmath>

#include "core/color/color_json.h"

namespace juvenor {
namespace {

// Luma as the W3C's filter effects weigh it (Rec. 709).
constexpr std::array<float, 3> kLuma{0.213f, 0.715f, 0.072f};

using Rows = std::array<std::array<float, 4>, 3>;

Rows identity() {
  Rows out{};
  for (size_t i = 0; i < 3; ++i) out[i][i] = 1;
  return out;
}

// First `b`, then `a`.
Rows times(const Rows& a, const Rows& b) {
  Rows out{};
  for (size_t i = 0; i < 3; ++i)
    for (size_t j = 0; j < 4; ++j) {
      for (size_t k = 0; k < 3; ++k) out[i][j] += a[i][k] * b[k][j];
      if (j == 3) out[i][j] += a[i][3];
    }
  return out;
}

Rows scaled(float by, float more) {
  Rows out{};
  for (size_t i = 0; i < 3; ++i) {
    out[i][i] = by;
    out[i][3] = more;
  }
  return out;
}

Rows saturated(float s) {
  Rows out{};
  for (size_t i = 0; i < 3; ++i)
    for (size_t j = 0; j < 3; ++j) out[i][j] = kLuma[j] * (1 - s) + (i == j ? s : 0);
  return out;
}

// feColorMatrix of type hueRotate.
Rows turnedHue(float degrees) {
  const float angle = degrees * 3.14159265f / 180, c = std::cos(angle), s = std::sin(angle);
  constexpr float kSine[3][3] = {
      {-0.213f, -0.715f, 0.928f}, {0.143f, 0.140f, -0.283f}, {-0.787f, 0.715f, 0.072f}};
  Rows out{};
  for (size_t i = 0; i < 3; ++i)
    for (size_t j = 0; j < 3; ++j) out[i][j] = kLuma[j] + c * ((i == j ? 1 : 0) - kLuma[j]) + s * kSine[i][j];
  return out;
}

Rows towardTint(const EncodedColor& tint, float amount) {
  const std::array<float, 3> color{tint.r, tint.g, tint.b};
  const float luma = std::max(0.02f, kLuma[0] * tint.r + kLuma[1] * tint.g + kLuma[2] * tint.b);
  Rows out{};
  for (size_t i = 0; i < 3; ++i)
    for (size_t j = 0; j < 3; ++j)
      out[i][j] = (i == j ? 1 - amount : 0) + amount * color[i] / luma * kLuma[j];
  return out;
}

Rows matchedTo(const EncodedColor& from, const EncodedColor& to, float amount) {
  const std::array<float, 3> a{from.r, from.g, from.b}, b{to.r, to.g, to.b};
  Rows out{};
  // what is dark is scaled, what is light too, toward white: black and white stay
  for (size_t i = 0; i < 3; ++i) {
    const float x = std::clamp(a[i], 0.02f, 0.98f), y = std::clamp(b[i], 0.f, 1.f);
    const bool darker = y <= x;
    const float by = darker ? y / x : (1 - y) / (1 - x);
    out[i][i] = 1 + amount * (by - 1);
    out[i][3] = darker ? 0 : amount * (1 - by);
  }
  return out;
}

// 0 all one grey, 1 as it is, 4 at most.
float steepness(float contrast) {
  return contrast < 0 ? 1 + contrast : 1 + 3 * contrast;
}

}  // namespace

ColorMatrix matrixOf(const Adjust& a) {
  Rows out = identity();
  if (a.saturation != 0) out = times(saturated(1 + a.saturation), out);
  if (a.hue != 0) out = times(turnedHue(a.hue), out);
  if (a.tinted > 0) out = times(towardTint(a.tint, a.tinted), out);
  if (a.matched > 0) out = times(matchedTo(a.from, a.to, a.matched), out);
  if (a.contrast != 0) {
    const float by = steepness(a.contrast);
    out = times(scaled(by, 0.5f * (1 - by)), out);
  }
  if (a.lightness != 0) out = times(scaled(1 - std::abs(a.lightness), std::max(0.f, a.lightness)), out);
  return {out};
}

std::vector<uint16_t> adjustedValues(const Adjust& a, uint16_t middle) {
  const std::vector<uint16_t> curve = curveOfValues(curveTable(a.curve));
  const float by = steepness(a.contrast), around = middle;
  std::vector<uint16_t> out(65536);
  for (size_t v = 0; v < out.size(); ++v) {
    float to = around + by * (static_cast<float>(v) - around);
    to = (1 - std::abs(a.lightness)) * to + 65535 * std::max(0.f, a.lightness);
    const float whole = std::clamp(to + 0.5f, 0.f, 65535.f);
    const auto place = static_cast<size_t>(whole);
    out[v] = curve.empty() ? static_cast<uint16_t>(place) : curve[place];
  }
  return out;
}

uint16_t adjustedValue(std::span<const uint16_t> becomes, const CoverChunk& chunk, size_t sample) {
  const uint32_t cover = chunk.plane[1][sample];
  if (cover == 0) return chunk.plane[0][sample];
  const uint32_t straight = std::min(65535u, (chunk.plane[0][sample] * 65535u + cover / 2) / cover);
  return static_cast<uint16_t>((becomes[straight] * cover + 32767u) / 65535u);
}

uint16_t adjustedValue(std::span<const uint16_t> becomes, const ScalarChunk& chunk, size_t sample) {
  return becomes[chunk.plane[0][sample]];
}

std::vector<uint16_t> curveTable(const std::vector<std::array<float, 2>>& points) {
  std::vector<std::array<float, 2>> p = points;
  std::ranges::stable_sort(p, {}, [](const auto& q) { return q[0]; });
  const auto close = std::ranges::unique(p, [](const auto& a, const auto& b) { return b[0] - a[0] < 1e-4f; });
  p.erase(close.begin(), close.end());
  if (p.empty()) return {};
  const size_t n = p.size();
  std::vector<float> slope(n, 0), rise(n, 0);
  for (size_t i = 0; i + 1 < n; ++i) rise[i] = (p[i + 1][1] - p[i][1]) / (p[i + 1][0] - p[i][0]);
  for (size_t i = 0; i < n; ++i) {
    const float before = i == 0 ? rise[0] : rise[i - 1], after = i + 1 == n ? before : rise[i];
    // the harmonic mean never swings over either side
    slope[i] = before * after <= 0 ? 0 : 2 * before * after / (before + after);
  }
  std::vector<uint16_t> out(kCurveSteps);
  size_t next = 0;
  for (size_t s = 0; s < kCurveSteps; ++s) {
    const float x = static_cast<float>(s) / static_cast<float>(kCurveSteps - 1);
    while (next < n && p[next][0] <= x) ++next;
    float y = 0;
    if (next == 0) {
      y = p.front()[1];
    } else if (next == n) {
      y = p.back()[1];
    } else {
      const auto &a = p[next - 1], &b = p[next];
      const float h = b[0] - a[0], t = (x - a[0]) / h, t2 = t * t, t3 = t2 * t;
      const auto [low, high] = std::minmax(a[1], b[1]);
      y = (2 * t3 - 3 * t2 + 1) * a[1] + (t3 - 2 * t2 + t) * h * slope[next - 1] + (3 * t2 - 2 * t3) * b[1] +
          (t3 - t2) * h * slope[next];
      y = std::clamp(y, low, high);
    }
    out[s] = static_cast<uint16_t>(std::lround(std::clamp(y, 0.f, 1.f) * 65535));
  }
  return out;
}

EncodedColor adjusted(const Adjust& adjust, const EncodedColor& color) {
  EncodedColor out = matrixOf(adjust).of(color);
  const auto table = curveTable(adjust.curve);
  for (float* v : {&out.r, &out.g, &out.b}) {
    *v = std::clamp(*v, 0.f, 1.f);
    if (table.empty()) continue;
    const float at = *v * static_cast<float>(kCurveSteps - 1);
    const auto low = std::min(kCurveSteps - 2, static_cast<size_t>(at));
    const float t = at - static_cast<float>(low);
    *v = (static_cast<float>(table[low]) * (1 - t) + static_cast<float>(table[low + 1]) * t) / 65535;
  }
  return out;
}

nlohmann::json toJson(const Adjust& a) {
  nlohmann::json curve = nlohmann::json::array();
  for (const auto& [in, out] : a.curve) curve.push_back({in, out});
  nlohmann::json out{{"on", keysOf(a.on)},
                     {"tint", toJson(a.tint)},
                     {"from", toJson(a.from)},
                     {"to", toJson(a.to)},
                     {"curve", curve}};
  addMembers(out, a);
  return out;
}

}  // namespace juvenor
