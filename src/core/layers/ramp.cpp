#include "core/layers/ramp.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/color/oklab.h"

namespace juvenor {
namespace {

// The two stops around a place, and how far it is from the first to the second.
struct Between {
  const RampStop &a, &b;
  float t;

  float of(float x, float y) const { return x + t * (y - x); }
};

Between around(const RampStops& ramp, float at) {
  size_t next = 0;
  while (next < ramp.size() && ramp[next].at < at) ++next;
  const RampStop& b = ramp[std::min(next, ramp.size() - 1)];
  const RampStop& a = next == 0 ? b : ramp[next - 1];
  return {a, b, b.at > a.at ? std::clamp((at - a.at) / (b.at - a.at), 0.f, 1.f) : 0.f};
}

template <class Value, class ValueOf>
std::vector<Value> tabled(const RampStops& ramp, size_t steps, ValueOf valueOf) {
  std::vector<Value> out(steps);
  for (size_t i = 0; i < steps; ++i)
    out[i] = valueOf(around(ramp, static_cast<float>(i) / static_cast<float>(steps - 1)));
  return out;
}

}  // namespace

std::vector<Rgba16> rampTable(const RampStops& ramp, size_t steps) {
  return tabled<Rgba16>(ramp, steps, [](const Between& at) {
    const Oklab p = toOklab(decode(at.a.color)), q = toOklab(decode(at.b.color));
    const EncodedColor c = encode(fromOklab({at.of(p.l, q.l), at.of(p.a, q.a), at.of(p.b, q.b)}));
    const float alpha = at.of(at.a.alpha, at.b.alpha);
    const auto channel = [&](float v) { return to16(std::clamp(v, 0.f, 1.f) * alpha); };
    return Rgba16{channel(c.r), channel(c.g), channel(c.b), to16(alpha)};
  });
}

template <Channel C>
std::vector<typename ChannelField<C>::Value> rampValues(const RampStops& ramp, float reliefStep,
                                                        size_t steps) {
  using Value = typename ChannelField<C>::Value;
  if constexpr (factsOf(C).rule == ChannelRule::Blend) {
    std::vector<Value> out;
    for (const Rgba16& c : rampTable(ramp, steps)) out.push_back({c.r, c.g, c.b, c.a});
    return out;
  } else {
    constexpr auto index = static_cast<size_t>(C);
    return tabled<Value>(ramp, steps, [&](const Between& at) -> Value {
      const float alpha = at.of(at.a.alpha, at.b.alpha), v = at.of(at.a.number[index], at.b.number[index]);
      if constexpr (factsOf(C).rule == ChannelRule::Cover)
        return {to16(v * alpha), to16(alpha)};
      else
        return {height16(v * alpha, reliefStep)};
    });
  }
}
#define JUVENOR_VALUES_OF(C)                                                                            \
  template std::vector<ChannelField<Channel::C>::Value> rampValues<Channel::C>(const RampStops&, float, \
                                                                               size_t);
JUVENOR_EACH_CHANNEL(JUVENOR_VALUES_OF)
#undef JUVENOR_VALUES_OF

nlohmann::json toJson(const RampStops& ramp, ChannelSet channels) {
  nlohmann::json out = nlohmann::json::array();
  for (const RampStop& s : ramp) {
    nlohmann::json stop{{"at", s.at}, {"alpha", s.alpha}};
    ChannelValues values;
    if (channels.has(Channel::Color)) values.color = s.color;
    for (size_t c = 0; c < kChannelCount; ++c)
      if (kChannels[c].rule != ChannelRule::Blend && channels.has(static_cast<Channel>(c)))
        values.number[c] = s.number[c];
    addToJson(stop, values);
    out.push_back(std::move(stop));
  }
  return out;
}

Result<ReadRamp> rampFrom(const nlohmann::json& stops) {
  if (!stops.is_array() || stops.empty()) return Error{"a ramp needs a list of one stop at least"};
  ReadRamp out;
  for (const auto& j : stops) {
    RampStop stop;
    ChannelValues values;
    JsonFields fields(j);
    fields.number("at", stop.at, 0, 1).number("alpha", stop.alpha, 0, 1);
    const Outcome ok = readChannels(fields, values).needs({"at"}).done();
    const auto wrong = [&](const std::string& what) {
      return Error{fmt::format("stop {} of the ramp {}", out.stops.size() + 1, what)};
    };
    if (!ok) return wrong(ok.error().what);
    if (values.channels().empty()) return wrong("needs a value of one channel at least, like \"color\"");
    if (out.stops.empty()) out.channels = values.channels();
    if (values.channels() != out.channels) return wrong("has other channels than the first");
    stop.color = values.color.value_or(EncodedColor{});
    for (size_t c = 0; c < kChannelCount; ++c) stop.number[c] = values.number[c].value_or(0.f);
    out.stops.push_back(stop);
  }
  std::ranges::stable_sort(out.stops, {}, &RampStop::at);
  return out;
}

Result<RampStops> readColorRamp(const nlohmann::json& stops) {
  auto read = rampFrom(stops);
  if (!read) return read.error();
  if (read->channels != Channel::Color) return Error{"its ramp is one of colours alone"};
  return std::move(read->stops);
}

}  // namespace juvenor
