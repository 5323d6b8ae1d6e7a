// Pictures of the window and its pages, written to files.
#pragma once

#include <QPixmap>

#include "app/driven_window.h"

namespace juvenor::screens {

/// The whole window once light and edges have come to rest.
void keepSettled(test::DrivenWindow& w, const QString& file);
/// The window with a page that has popped up over it.
void keepWithPage(test::DrivenWindow& w, QWidget& page, const QString& file);
/// Pictures side by side, as one.
QPixmap beside(const QList<QPixmap>& pictures);
/// One above the other.
QPixmap above(const QPixmap& upper, const QPixmap& lower);
void keep(const QPixmap& shot, const QString& file);
void keepBeside(const QList<QPixmap>& pictures, const QString& file);

}  // namespace juvenor::screens
