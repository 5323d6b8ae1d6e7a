#include "core/layers/channels.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/color/color_json.h"

namespace juvenor {
namespace {

constexpr float kHighest = 1e9f;

constexpr std::string_view kModeKeys[kChannelModeCount] = {"usual", "multiply", "higher", "lower", "replace"};
constexpr std::string_view kModeLabels[kChannelModeCount] = {"covers", "multiplies", "higher of both",
                                                             "lower of both", "replaces"};

}  // namespace

std::string_view channelModeKey(ChannelMode mode) {
  return kModeKeys[static_cast<size_t>(mode)];
}

std::string_view channelModeLabel(ChannelMode mode, ChannelRule rule) {
  return mode == ChannelMode::Usual && rule == ChannelRule::Add ? "adds up"
                                                                : kModeLabels[static_cast<size_t>(mode)];
}

std::optional<ChannelMode> channelModeFromKey(std::string_view key) {
  const auto found = std::ranges::find(kModeKeys, key);
  if (found == std::end(kModeKeys)) return std::nullopt;
  return static_cast<ChannelMode>(found - std::begin(kModeKeys));
}

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

float highestOf(const ScalarField& heights, float reliefStep) {
  uint16_t low = kLevel, high = kLevel;
  for (size_t c = 0; c < heights.chunkCount(); ++c)
    if (const auto& chunk = heights.chunk(c)) {
      const auto [least, most] = std::ranges::minmax(chunk->plane[0]);
      low = std::min(low, least);
      high = std::max(high, most);
    }
  return reliefStep * static_cast<float>(std::max(kLevel - low, high - kLevel));
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

nlohmann::json keysOf(ChannelSet channels) {
  nlohmann::json out = nlohmann::json::array();
  for (size_t c = 0; c < kChannelCount; ++c)
    if (channels.has(static_cast<Channel>(c))) out.push_back(kChannels[c].key);
  return out;
}

Outcome readChannelSet(const nlohmann::json* list, ChannelSet& out) {
  if (!list) return Done{};
  ChannelSet given;
  for (const nlohmann::json& key : *list) {
    const auto channel = key.is_string() ? channelFromKey(key.get<std::string>()) : std::nullopt;
    if (!channel) return Error{fmt::format("it can work on color, gloss and so on, not on {}", textOf(key))};
    given |= *channel;
  }
  if (given.empty()) return Error{"it works on no channel"};
  out = given;
  return Done{};
}

}  // namespace juvenor
