// Layers of surface maps through a row of values.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

/// Surface maps through a row of values.
SourcePointer rampSource(MaskTerms terms, RampStops stops, ChannelSet channels = Channel::Color);
struct RampContent {
  MaskTerms terms;
  RampStops stops;
  ChannelSet channels = Channel::Color;  ///< those it brings
};
/// What a ramp source is made of, or nothing for other kinds.
std::optional<RampContent> rampContent(const LayerSource& source);

}  // namespace juvenor
