#include "core/layers/color_ramp.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/color/oklab.h"

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
    out.push_back({{"at", s.at}, {"color", {s.color.r, s.color.g, s.color.b}}, {"alpha", s.alpha}});
  return out;
}

Result<ColorRamp> colorRampFrom(const nlohmann::json& stops) {
  if (!stops.is_array() || stops.empty()) return Error{"a colour ramp needs a list of one stop at least"};
  ColorRamp out;
  for (const auto& j : stops) {
    const auto wrong = [&](const char* what) {
      return Error{fmt::format("stop {} of the colour ramp needs {}", out.size() + 1, what)};
    };
    RampStop stop;
    if (!j.is_object() || !j.contains("at") || !j["at"].is_number()) return wrong("\"at\", 0 to 1");
    stop.at = std::clamp(j["at"].get<float>(), 0.f, 1.f);
    const auto color = j.find("color");
    if (color == j.end()) return wrong("a \"color\"");
    if (color->is_string()) {
      const auto read = fromHex(color->get<std::string>());
      if (!read) return wrong("a colour like \"#a34b3d\"");
      stop.color = *read;
    } else if (color->is_array() && color->size() == 3 && (*color)[0].is_number() &&
               (*color)[1].is_number() && (*color)[2].is_number()) {
      stop.color = {(*color)[0].get<float>(), (*color)[1].get<float>(), (*color)[2].get<float>()};
    } else {
      return wrong("three numbers or a text as its colour");
    }
    if (const auto alpha = j.find("alpha"); alpha != j.end()) {
      if (!alpha->is_number()) return wrong("a number as its alpha");
      stop.alpha = std::clamp(alpha->get<float>(), 0.f, 1.f);
    }
    out.push_back(stop);
  }
  std::ranges::stable_sort(out, {}, &RampStop::at);
  return out;
}

}  // namespace juvenor
