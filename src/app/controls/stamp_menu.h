// Choosing a stamp: one that ships, by its picture, or a picture from a file.
#pragma once

#include <QIcon>
#include <QPoint>
#include <QString>

#include "core/brush/stamp.h"

class QWidget;

namespace juvenor::app {

/// A stamp as it lays: dark where it is strong.
QIcon stampIcon(const Stamp& stamp);

struct ChosenStamp {
  StampPointer stamp;  ///< null: nothing was chosen
  QString trouble;     ///< why a file could not be taken; empty when nothing went wrong
};
/// Asks at a place of the screen.
ChosenStamp askStamp(QWidget* parent, const QPoint& global);

}  // namespace juvenor::app
