// Layers of one value everywhere.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

/// One value of each channel everywhere.
SourcePointer fillSource(const ChannelValues& values);
SourcePointer fillSource(const EncodedColor& color);
/// The values of a fill source, or nothing for other kinds.
std::optional<ChannelValues> fillValues(const LayerSource& source);
/// Its colour, when it has one.
std::optional<EncodedColor> fillColor(const LayerSource& source);

}  // namespace juvenor
