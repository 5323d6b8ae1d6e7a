// A pattern whose relief was soothed by hand: weaker under strokes, everything else as it was.
#pragma once

#include "core/layers/skin_stroke.h"
#include "core/layers/source.h"

namespace juvenor {

/// How much of the relief is left at each sample, 65535 all; remembered by `maps`.
std::shared_ptr<const ScalarField> soothedField(SurfaceMaps& maps, const std::vector<SkinStroke>& strokes);

/// `source` with its heights weakened by the field.
PreparedSourcePointer soothed(PreparedSourcePointer source, std::shared_ptr<const ScalarField> left);

}  // namespace juvenor
