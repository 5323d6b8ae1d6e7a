// The picture of what a layer does to skin, as an icon.
#pragma once

#include <QIcon>
#include <QSize>

#include "core/layers/source.h"

class QAbstractButton;

namespace juvenor::app {

/// Empty when its example cannot be worked out.
QIcon kindIcon(const SourceKind& kind, const QSize& size);
/// Gives a button the picture of a source that suits a patch about two units wide: worked out beside the
/// window the first time, kept as long as the program runs.
void showSourceIcon(QAbstractButton* button, SourcePointer source, const QSize& size);

}  // namespace juvenor::app
