// The picture of a kind of layer, as an icon.
#pragma once

#include <QIcon>
#include <QSize>

#include "core/layers/source.h"

namespace juvenor::app {

/// Empty when its example cannot be worked out.
QIcon kindIcon(const SourceKind& kind, const QSize& size);

}  // namespace juvenor::app
