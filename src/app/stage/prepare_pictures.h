// The small pictures beside what a sculpt must have: drawn from the numbers, so that they are looked at
// before anything is read.
#pragma once

#include <QImage>

#include "core/prepare/readiness.h"

namespace juvenor::app {

/// Points as dots as close as they lie, over a thing so large (millimetres) that is to be painted.
QImage pointsPicture(float spacing, float thing, int edge);
/// Pieces side by side, as many as can be told apart, in two greys where they lie in more parts than one.
QImage shellsPicture(size_t shells, size_t parts, int edge);
/// Squares of a layout, crossed where some lies on top of some.
QImage squaresPicture(const Readiness& found, int edge);
/// A figure and its mirror plane, so many scene units aside when the figure is `tall`.
QImage mirrorPicture(const Readiness& found, int edge);
/// The first pictures of the board; an empty frame when there are none.
QImage boardPicture(const std::vector<BoardPicture>& board, int edge);

}  // namespace juvenor::app
