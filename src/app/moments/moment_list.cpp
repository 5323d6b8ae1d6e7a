#include "app/moments/moment_list.h"

#include <QDateTime>
#include <QHeaderView>
#include <QLocale>
#include <QPainter>
#include <QStyledItemDelegate>

#include "app/moments/moment_pictures.h"
#include "app/style/style.h"

namespace juvenor::app {

namespace {

// The picture, the name beside it, and a quiet line beneath; only the name is edited.
class MomentDelegate final : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;

  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {100, kMomentHigh + 6};
  }
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    QStyleOptionViewItem row = option;
    initStyleOption(&row, index);
    row.text.clear();
    row.icon = {};
    row.features &= ~QStyleOptionViewItem::HasDecoration;
    const QStyle* style = row.widget->style();
    style->drawControl(QStyle::CE_ItemViewItem, &row, painter, row.widget);
    const QRect all = option.rect;
    const QIcon picture = index.data(Qt::DecorationRole).value<QIcon>();
    picture.paint(painter, QRect(all.left() + 2, all.top() + 3, kMomentWide, kMomentHigh));
    const QColor ink = index.data(Qt::ForegroundRole).value<QBrush>().color();
    const bool undone = index.data(Qt::ForegroundRole).isValid() && ink != look::kText;
    QRect line = nameRect(all);
    painter->setFont(row.font);
    painter->setPen(undone ? ink : look::kText);
    painter->drawText(line, Qt::AlignLeft | Qt::AlignVCenter,
                      row.fontMetrics.elidedText(index.data().toString(), Qt::ElideRight, line.width()));
    line.translate(0, line.height());
    QFont small = row.font;
    small.setPixelSize(11);
    painter->setFont(small);
    painter->setPen(undone ? ink : look::kQuiet);
    painter->drawText(
        line, Qt::AlignLeft | Qt::AlignVCenter,
        QFontMetrics(small).elidedText(index.data(kDetail).toString(), Qt::ElideRight, line.width()));
  }
  void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option,
                            const QModelIndex&) const override {
    editor->setGeometry(nameRect(option.rect).adjusted(-3, -2, 0, 4));
  }

 private:
  static QRect nameRect(const QRect& row) {
    return {row.left() + kMomentWide + 8, row.top() + 3, row.width() - kMomentWide - 10, kMomentHigh / 2};
  }
};

}  // namespace

QTreeWidget* momentList(const QString& objectName, const QString& accessibleName) {
  auto* list = new QTreeWidget;
  list->setObjectName(objectName);
  list->setAccessibleName(accessibleName);
  list->setColumnCount(1);
  list->header()->hide();
  list->setItemDelegate(new MomentDelegate(list));
  list->setRootIsDecorated(false);
  list->setUniformRowHeights(true);
  list->setIconSize({kMomentWide, kMomentHigh});
  list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
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
