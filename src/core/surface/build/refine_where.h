// Where points are added when not everywhere: a set of samples as the ranges of their numbers, which are few,
// since neighbours on the skin are neighbours in number.
#pragma once

#include "core/surface/build/refine.h"
#include "core/surface/field.h"

namespace juvenor {

/// The samples of which a field says one half or more, as pairs: the first, and one past the last.
std::vector<uint32_t> rangesOf(const ScalarField& field);
/// The same of a condition.
std::vector<uint32_t> rangesWhere(size_t samples, const std::function<bool(size_t)>& holds);

/// The other way round: a mark for each sample. The error says that the pairs are none, or speak of samples
/// that are not there.
Result<std::vector<char>> marksOf(std::span<const uint32_t> ranges, size_t samples);

/// How far apart points are to lie around each sample (scene units): inside the marked ones as `spacing`
/// says, and from there on the farther apart the farther away along the edges, by half of the way, so that no
/// large triangle borders on many small ones. Infinite where nothing is to be cut.
std::vector<float> spacingsAround(const Surface& surface, const std::vector<char>& marks, float spacing);

}  // namespace juvenor
