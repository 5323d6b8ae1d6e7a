#include "core/photo/slide_tone.h"

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

Outcome readLight(const json& j, std::optional<LightNumbers>& out) {
  LightNumbers light;
  for (size_t c = 0; c < 3; ++c) {
    const auto numbers =
        j.is_object() && j.contains(kColors[c]) ? numbersFrom<9>(j[std::string(kColors[c])]) : std::nullopt;
    if (!numbers) return Error{"has light that is not nine numbers a colour"};
    light[c] = *numbers;
  }
  out = light;
  return Done{};
}

}  // namespace

json toJson(const SlideTone& tone) {
  json out{{"even", tone.even},   {"broad", tone.broad},       {"highlights", tone.highlights},
           {"match", tone.match}, {"from", toJson(tone.from)}, {"to", toJson(tone.to)}};
  if (tone.light)
    for (size_t c = 0; c < 3; ++c) out["light"][std::string(kColors[c])] = (*tone.light)[c];
  return out;
}

Result<SlideTone> slideToneFromJson(const json& j) {
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
  if (ok && light) ok = readLight(*light, out.light);
  if (ok && from) ok = readSpread(*from, out.from);
  if (ok && to) ok = readSpread(*to, out.to);
  if (!ok) return ok.error();
  return out;
}

}  // namespace juvenor
