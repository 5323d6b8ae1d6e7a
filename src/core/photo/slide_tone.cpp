#include "core/photo/slide_tone.h"

#include <fmt/format.h>

#include <algorithm>
#include <numbers>

#include "core/harmonics.h"
#include "core/json_fields.h"

namespace juvenor {

using nlohmann::json;

namespace {

constexpr std::array<std::string_view, 3> kColors{"red", "green", "blue"};

json toJson(const ToneSpread& spread) {
  return {{"mean", spread.mean}, {"deviation", spread.deviation}};
}

template <size_t N>
std::optional<std::array<float, N>> numbersFrom(const json& list) {
  std::array<float, N> out;
  if (!list.is_array() || list.size() != N) return std::nullopt;
  for (size_t i = 0; i < N; ++i) {
    const auto number = numberFromJson(list[i]);
    if (!number) return std::nullopt;
    out[i] = *number;
  }
  return out;
}

Outcome readSpread(const json& j, ToneSpread& out) {
  const json *mean = nullptr, *deviation = nullptr;
  const Outcome ok = JsonFields(j).list("mean", mean).list("deviation", deviation).done();
  if (!ok) return ok;
  const auto m = mean ? numbersFrom<3>(*mean) : out.mean,
             d = deviation ? numbersFrom<3>(*deviation) : out.deviation;
  if (!m || !d) return Error{"has tones that are not three numbers each"};
  for (const float v : *d)
    if (v < 0) return Error{"has tones that deviate by less than nothing"};
  out = {*m, *d};
  return Done{};
}

// The radiance whose irradiance nine numbers are, where it is any.
std::array<float, kSkyWays> waysOf(const std::array<float, 9>& numbers, const Eigen::Matrix3f& view) {
  constexpr float kShare = 4 * std::numbers::pi_v<float> / kSkyWays;
  std::array<float, kSkyWays> out;
  for (size_t w = 0; w < kSkyWays; ++w) {
    const Harmonics basis = harmonicsAt(view.transpose() * skyWays()[w]);
    float sum = 0;
    for (size_t k = 0; k < 9; ++k) sum += numbers[k] * basis[k] / kCosineLobe[static_cast<size_t>(kBand[k])];
    out[w] = std::max(0.f, kShare * sum);
  }
  return out;
}

Outcome readLight(const json& j, const Eigen::Matrix3f& view, std::optional<WayLight>& out) {
  const Error none{fmt::format("has light that is not {} numbers a colour, none below 0", kSkyWays)};
  WayLight light;
  for (size_t c = 0; c < 3; ++c) {
    const auto list = j.is_object() ? j.find(kColors[c]) : j.end();
    if (!j.is_object() || list == j.end()) return none;
    if (const auto nine = numbersFrom<9>(*list)) {
      light[c] = waysOf(*nine, view);
      continue;
    }
    const auto ways = numbersFrom<kSkyWays>(*list);
    if (!ways || std::ranges::any_of(*ways, [](float v) { return v < 0; })) return none;
    light[c] = *ways;
  }
  out = light;
  return Done{};
}

constexpr size_t kShared = 3;  // ways a turned one falls between

}  // namespace

WayLight turnedLight(const WayLight& light, const Eigen::Matrix3f& turn) {
  WayLight out{};
  for (size_t w = 0; w < kSkyWays; ++w) {
    const Vec3 way = turn * skyWays()[w];
    std::array<std::pair<float, size_t>, kSkyWays> near;
    for (size_t i = 0; i < kSkyWays; ++i) near[i] = {(skyWays()[i] - way).squaredNorm(), i};
    std::ranges::partial_sort(near, near.begin() + kShared);
    float all = 0;
    for (size_t i = 0; i < kShared; ++i) all += 1 / (near[i].first + 1e-6f);
    for (size_t i = 0; i < kShared; ++i)
      for (size_t c = 0; c < 3; ++c) out[c][near[i].second] += light[c][w] / (near[i].first + 1e-6f) / all;
  }
  return out;
}

json toJson(const SlideTone& tone) {
  json out{{"even", tone.even},   {"broad", tone.broad},       {"highlights", tone.highlights},
           {"match", tone.match}, {"from", toJson(tone.from)}, {"to", toJson(tone.to)}};
  if (tone.light)
    for (size_t c = 0; c < 3; ++c) out["light"][std::string(kColors[c])] = (*tone.light)[c];
  return out;
}

Result<SlideTone> slideToneFromJson(const json& j, const Eigen::Matrix3f& view) {
  SlideTone out;
  const json *light = nullptr, *from = nullptr, *to = nullptr;
  Outcome ok = JsonFields(j)
                   .number("even", out.even, 0, 1)
                   .number("broad", out.broad, 0.01f, 1)
                   .any("light", light)
                   .number("highlights", out.highlights, 0, 1)
                   .number("match", out.match, 0, 1)
                   .any("from", from)
                   .any("to", to)
                   .done();
  if (ok && light) ok = readLight(*light, view, out.light);
  if (ok && from) ok = readSpread(*from, out.from);
  if (ok && to) ok = readSpread(*to, out.to);
  if (!ok) return ok.error();
  return out;
}

}  // namespace juvenor
