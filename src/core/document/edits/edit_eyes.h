// Eyes are set by a press on their balls: the ball is fitted to the skin there, the press is where it looks.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// A layer of eyes with one set where `place` on a part was pressed, or turned there if that ball has one; on
/// both sides of the figure's mirror when `both` (the other one has a seed of its own: eyes are never
/// mirrored). `layer`: 0 for a new one. Without sizes of its own a new layer gets those of the ball: an iris
/// of half its radius, as people have. The error says why there is no ball.
Result<Document> withEyeAt(const Document& document, uint32_t layer, const Vec3& place, uint32_t part,
                           bool both);
/// The same without the eye of a ball.
Result<Document> withoutEye(const Document& document, uint32_t layer, size_t ball);

}  // namespace juvenor
