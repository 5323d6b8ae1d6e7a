// A row of values that numbers 0…1 are looked up in, channel by channel. Between two stops colours go
// straight in Oklab, so that the steps look even; everything else goes straight as it is.
#pragma once

#include <nlohmann/json.hpp>
#include <vector>

#include "core/layers/channels.h"

namespace juvenor {

struct RampStop {
  float at = 0;  ///< 0…1
  EncodedColor color;
  float alpha = 1;  ///< 0…1: how much all of it covers; of a height how much of it
  std::array<float, kChannelCount> number{};  ///< of the channels that are no colour; heights in scene units

  bool operator==(const RampStop&) const = default;
};
/// Ascending; one stop at least.
using RampStops = std::vector<RampStop>;

inline constexpr size_t kRampSteps = 1024;

/// What a channel's samples hold at `steps` even places from 0 to 1.
template <Channel C>
std::vector<typename ChannelField<C>::Value> rampValues(const RampStops& ramp, float reliefStep,
                                                        size_t steps = kRampSteps);
/// Premultiplied colours.
std::vector<Rgba16> rampTable(const RampStops& ramp, size_t steps = kRampSteps);

/// Stops with the members of these channels alone.
nlohmann::json toJson(const RampStops& ramp, ChannelSet channels = Channel::Color);

struct ReadRamp {
  RampStops stops;
  ChannelSet channels;  ///< those its stops name
};
/// Stops in any order, all with the same channels; the error says which is wrong.
Result<ReadRamp> rampFrom(const nlohmann::json& json);

/// Stops of colours and nothing else.
Result<RampStops> readColorRamp(const nlohmann::json& json);

}  // namespace juvenor
