// How lists of moments look: a picture, a name, and when it was.
#pragma once

#include <QTreeWidget>

namespace juvenor::app {

/// A row's second, quieter line; its name is the text.
inline constexpr int kDetail = Qt::UserRole + 10;

QTreeWidget* momentList(const QString& objectName, const QString& accessibleName);

/// "14:02", empty when it is not known.
QString timeOfDay(qint64 seconds);
/// With the day, as the reader's language has it.
QString wholeTime(qint64 seconds);

}  // namespace juvenor::app
