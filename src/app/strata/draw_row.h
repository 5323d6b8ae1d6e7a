// How a row of the Strata looks.
#pragma once

#include <QImage>
#include <QPainter>

#include "app/strata/strata_list.h"

namespace juvenor::app {

/// What is to be seen of a layer beside what it says of itself.
struct RowLook {
  bool dense = false;
  bool active = false, chosen = false;
  bool shown = true;  ///< no group around it is hidden
  bool atStage = false;
  float opacity = 1;
  QImage picture = {};
  bool troubled = false, noted = false;
};

void drawRow(QPainter& painter, const Document& document, const StrataRow& row, const RowLook& look);

/// Where in a row one presses for what.
QRect dotRect(const StrataRow& row);
/// Of a group's row: what folds it.
QRect foldRect(const StrataRow& row);
QRect opacityRect(const StrataRow& row);

}  // namespace juvenor::app
