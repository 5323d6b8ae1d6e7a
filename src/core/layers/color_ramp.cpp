#include "core/layers/color_ramp.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/color/oklab.h"
#include "core/json_fields.h"

namespace juvenor {

std::vector<Rgba16> rampTable(const ColorRamp& ramp, size_t steps) {
  std::vector<Rgba16> out(steps);
  for (size_t i = 0; i < steps; ++i) {
    const float at = static_cast<float>(i) / static_cast<float>(steps - 1);
    size_t next = 0;
    while (next < ramp.size() && ramp[next].at < at) ++next;
    const RampStop& b = ramp[std::min(next, ramp.size() - 1)];
    const RampStop& a = next == 0 ? b : ramp[next - 1];
    const float t = b.at > a.at ? std::clamp((at - a.at) / (b.at - a.at), 0.f, 1.f) : 0.f;
    const Oklab p = toOklab(decode(a.color)), q = toOklab(decode(b.color));
    const EncodedColor c =
        encode(fromOklab({p.l + t * (q.l - p.l), p.a + t * (q.a - p.a), p.b + t * (q.b - p.b)}));
    const float alpha = a.alpha + t * (b.alpha - a.alpha);
    const auto channel = [&](float v) { return to16(std::clamp(v, 0.f, 1.f) * alpha); };
    out[i] = {channel(c.r), channel(c.g), channel(c.b), to16(alpha)};
  }
  return out;
}

nlohmann::json toJson(const ColorRamp& ramp) {
  nlohmann::json out = nlohmann::json::array();
  for (const RampStop& s : ramp)
    out.push_back({{"at", s.at}, {"color", toJson(s.color)}, {"alpha", s.alpha}});
  return out;
}

Result<ColorRamp> colorRampFrom(const nlohmann::json& stops) {
  if (!stops.is_array() || stops.empty()) return Error{"a colour ramp needs a list of one stop at least"};
  ColorRamp out;
  for (const auto& j : stops) {
    RampStop stop;
    const Outcome ok = JsonFields(j)
                           .number("at", stop.at, 0, 1)
                           .color("color", stop.color)
                           .number("alpha", stop.alpha, 0, 1)
                           .needs({"at", "color"})
                           .done();
    if (!ok) return Error{fmt::format("stop {} of the colour ramp {}", out.size() + 1, ok.error().what)};
    out.push_back(stop);
  }
  std::ranges::stable_sort(out, {}, &RampStop::at);
  return out;
}

}  // namespace juvenor
