// How lists of moments look: a picture, a name, and when it was.
#pragma once

#include <QTreeWidget>

namespace juvenor::app {

/// Two columns, the name and the time of day.
QTreeWidget* momentList(const QString& objectName, const QString& accessibleName);

/// "14:02", empty when it is not known.
QString timeOfDay(qint64 seconds);
/// With the day, as the reader's language has it.
QString wholeTime(qint64 seconds);

}  // namespace juvenor::app
