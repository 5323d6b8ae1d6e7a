#include "app/moments/moment_list.h"

#include <QDateTime>
#include <QHeaderView>
#include <QLocale>

#include "app/moments/moment_pictures.h"
#include "app/style/style.h"

namespace juvenor::app {

QTreeWidget* momentList(const QString& objectName, const QString& accessibleName) {
  auto* list = new QTreeWidget;
  list->setObjectName(objectName);
  list->setAccessibleName(accessibleName);
  list->setColumnCount(2);
  list->header()->hide();
  list->header()->setStretchLastSection(false);
  list->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  list->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  list->setRootIsDecorated(false);
  list->setUniformRowHeights(true);
  list->setIconSize({kMomentWide, kMomentHigh});
  list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list->setTextElideMode(Qt::ElideRight);
  list->setContextMenuPolicy(Qt::CustomContextMenu);
  list->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
  return list;
}

QString timeOfDay(qint64 seconds) {
  return seconds == 0 ? QString() : QDateTime::fromSecsSinceEpoch(seconds).toString("hh:mm");
}

QString wholeTime(qint64 seconds) {
  return seconds == 0 ? QString()
                      : QLocale().toString(QDateTime::fromSecsSinceEpoch(seconds), QLocale::ShortFormat);
}

}  // namespace juvenor::app
