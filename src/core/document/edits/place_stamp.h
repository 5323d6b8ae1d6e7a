// Marks that are placed, not drawn: a stamp at one place, and a stroke along a line that is known beforehand.
#pragma once

#include "core/document/edits/paint_stroke.h"

namespace juvenor {

/// A dab of the setting's brush and its mirrors: `along` is where its right side goes, `radius` in scene
/// units.
Result<Document> withStampPlaced(const Document& document, const StrokeSetting& setting,
                                 const SurfacePoint& at, const Vec3& along, float radius, Flood& flood);

/// A stroke through places on the skin at one pressure (0…1).
Result<Document> withStrokeAlong(const Document& document, const StrokeSetting& setting,
                                 std::span<const SurfacePoint> line, float pressure, Flood& flood);

}  // namespace juvenor
