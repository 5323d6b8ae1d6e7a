// The picture of what a layer does to skin, as an icon.
#pragma once

#include <QIcon>
#include <QSize>

#include "core/layers/source.h"

class QAbstractButton;

namespace juvenor::app {

// Pictures are worked out beside the window the first time and kept as long as the program runs; what cannot
// be worked out stays empty.

/// Gives a button the picture of a kind's example; null: it is made ahead, for who asks later.
void showKindIcon(QAbstractButton* button, const SourceKind& kind, const QSize& size);
/// The same of a source that suits a patch about two units wide.
void showSourceIcon(QAbstractButton* button, SourcePointer source, const QSize& size);

}  // namespace juvenor::app
