// The picture of what a layer does to skin, as an icon.
#pragma once

#include <QIcon>
#include <QSize>

#include "core/layers/source.h"

namespace juvenor::app {

/// Empty when its example cannot be worked out.
QIcon kindIcon(const SourceKind& kind, const QSize& size);
/// Of one that suits a patch about two units wide.
QIcon sourceIcon(SourcePointer source, const QSize& size);

}  // namespace juvenor::app
