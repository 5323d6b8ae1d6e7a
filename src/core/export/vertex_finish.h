// What a sculpt's file carries beside the sculpt.
#pragma once

#include "core/document/document.h"
#include "core/sculpt/formats.h"

namespace juvenor {

/// The composite at every vertex of the sculpt, with the surface's normals; of the channels beside colour
/// those that are written.
VertexFinish finishOf(const Document& document, const ChannelFields& skin);
/// The same at some samples, one a vertex.
VertexFinish finishAt(const Document& document, const ChannelFields& skin, std::span<const uint32_t> samples);

/// A copy of the sculpt with the relief of its skin applied: every vertex moved along its normal by the
/// height there, vertices, order and polygons as they were; `finish` gets the normals of the new shape.
Sculpt withReliefApplied(const Document& document, const ChannelFields& skin, VertexFinish& finish);
/// The same of any sculpt whose vertices are these samples of the document.
void applyRelief(Sculpt& sculpt, const Document& document, const ChannelFields& skin,
                 std::span<const uint32_t> samples, VertexFinish& finish);

}  // namespace juvenor
