// Lists of buttons that are made anew.
#pragma once

#include <QLayout>
#include <QWidget>

namespace juvenor::app {

/// Takes everything out of a layout. One of its buttons may be what is being pressed: they go once that is
/// over.
inline void empty(QLayout& layout) {
  while (QLayoutItem* item = layout.takeAt(0)) {
    if (QWidget* widget = item->widget()) {
      widget->hide();
      widget->deleteLater();
    }
    delete item;
  }
}

}  // namespace juvenor::app
