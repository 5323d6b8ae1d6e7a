#include "core/brush/brush.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

constexpr std::array<std::string_view, kTipKindCount> kTipKeys{"falloff", "stamp", "spray"};
constexpr std::array<std::string_view, kTurnByCount> kTurnKeys{"fixed", "stroke", "tilt", "random"};

template <class Kind, size_t N>
std::optional<Kind> known(const std::array<std::string_view, N>& keys, std::string_view key) {
  const auto found = std::ranges::find(keys, key);
  if (found == keys.end()) return std::nullopt;
  return static_cast<Kind>(found - keys.begin());
}

}  // namespace

std::string_view tipKey(TipKind kind) {
  return kTipKeys[static_cast<size_t>(kind)];
}

std::optional<TipKind> tipFromKey(std::string_view key) {
  return known<TipKind>(kTipKeys, key);
}

std::string_view turnByKey(TurnBy by) {
  return kTurnKeys[static_cast<size_t>(by)];
}

std::optional<TurnBy> turnByFromKey(std::string_view key) {
  return known<TurnBy>(kTurnKeys, key);
}

// The largest radius N dots of an area can all have without touching is that of a hexagonal lattice.
float dotDistance(float density) {
  return density > 0 ? 2 * kRelativeRadius * std::sqrt(1 / (2 * std::sqrt(3.f) * density)) : 0.f;
}

float densityOfCover(const SprayTip& spray, float cover) {
  return cover /
         (std::numbers::pi_v<float> * spray.dotRadius * spray.dotRadius * meanFalloff(spray.dotHardness));
}

float coverOfDensity(const SprayTip& spray) {
  return spray.density / densityOfCover(spray, 1);
}

float PressureCurve::operator()(float pressure) const {
  const float x = std::clamp(pressure, 0.f, 1.f);
  const auto bezier = [](float a, float b, float t) {
    const float u = 1 - t;
    return 3 * u * u * t * a + 3 * u * t * t * b + t * t * t;
  };
  float low = 0, high = 1;
  for (int i = 0; i < 24; ++i) {
    const float mid = (low + high) / 2;
    (bezier(first.x(), second.x(), mid) < x ? low : high) = mid;
  }
  return std::clamp(bezier(first.y(), second.y(), (low + high) / 2), 0.f, 1.f);
}

DabStrength strengthAt(const Brush& brush, float pressure) {
  const float p = brush.curve(pressure);
  // a brush that shrinks to nothing would leave gaps in a light stroke
  const float size = 0.15f + 0.85f * p;
  return {brush.radius * (brush.pressureSize ? size : 1.f), brush.opacity * (brush.pressureOpacity ? p : 1.f),
          brush.flow * (brush.pressureFlow ? p : 1.f), brush.pressureDots ? p : 1.f};
}

}  // namespace juvenor
