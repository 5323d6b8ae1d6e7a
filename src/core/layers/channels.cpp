#include "core/layers/channels.h"
#include "core/color/color_json.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

constexpr float kHighest = 1e9f;

}  // namespace

std::optional<Channel> channelFromKey(std::string_view key) {
  for (size_t c = 0; c < kChannelCount; ++c)
    if (kChannels[c].key == key) return static_cast<Channel>(c);
  return std::nullopt;
}

ChannelFields::ChannelFields(size_t samples) {
  eachChannel([&](auto c) { get<c()>() = ChannelField<c()>(samples, nothingOf<c()>()); });
}

ChannelFields::ChannelFields(ColorField field) : ChannelFields(field.size()) {
  color() = std::move(field);
}

ChannelSet ChannelFields::written() const {
  ChannelSet out;
  eachChannel([&](auto c) {
    if (get<c()>().holdsAny()) out |= c();
  });
  return out;
}

ChannelSet ChannelValues::channels() const {
  ChannelSet out;
  if (color) out |= Channel::Color;
  for (size_t c = 0; c < kChannelCount; ++c)
    if (number[c]) out |= static_cast<Channel>(c);
  return out;
}

uint16_t height16(float height, float reliefStep) {
  const float steps = reliefStep > 0 ? height / reliefStep : 0.f;
  return static_cast<uint16_t>(std::clamp(std::round(steps) + kLevel, 0.f, 65535.f));
}

void addToJson(nlohmann::json& out, const ChannelValues& values) {
  if (values.color) out[factsOf(Channel::Color).key] = toJson(*values.color);
  for (size_t c = 0; c < kChannelCount; ++c)
    if (values.number[c]) out[kChannels[c].key] = *values.number[c];
}

JsonFields& readChannels(JsonFields& fields, ChannelValues& out) {
  EncodedColor color;
  fields.value(factsOf(Channel::Color).key, color, kJsonColor);
  if (fields.has(factsOf(Channel::Color).key)) out.color = color;
  for (size_t c = 0; c < kChannelCount; ++c) {
    const ChannelFacts& facts = kChannels[c];
    if (facts.rule == ChannelRule::Blend) continue;
    const bool height = facts.rule == ChannelRule::Add;
    float value = 0;
    fields.number(facts.key, value, height ? -kHighest : 0, height ? kHighest : 1);
    if (fields.has(facts.key)) out.number[c] = value;
  }
  return fields;
}

std::array<std::string_view, kChannelCount> channelKeys() {
  std::array<std::string_view, kChannelCount> out;
  std::ranges::transform(kChannels, out.begin(), &ChannelFacts::key);
  return out;
}

}  // namespace juvenor
