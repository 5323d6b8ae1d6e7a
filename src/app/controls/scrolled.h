// A page that may be longer than its place.
#pragma once

#include <QScrollArea>

namespace juvenor::app {

/// A frameless area that scrolls up and down alone, on the ground its panel has.
inline QScrollArea* scrolled(QWidget* inside) {
  auto* out = new QScrollArea;
  out->setWidget(inside);
  out->setWidgetResizable(true);
  out->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  out->setFrameShape(QFrame::NoFrame);
  inside->setAutoFillBackground(false);
  out->viewport()->setAutoFillBackground(false);
  return out;
}

}  // namespace juvenor::app
