#include "app/moments/steps.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/moments/memory_button.h"
#include "app/moments/moment_list.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

// The steps a row stands for, by their places in the history.
constexpr int kFirst = Qt::UserRole, kLast = Qt::UserRole + 1;

size_t placeIn(const QTreeWidgetItem& item, int role) {
  return static_cast<size_t>(item.data(0, role).toULongLong());
}

// A step that laid a colour names it: shown as a swatch instead of as figures.
std::optional<EncodedColor> colorIn(const QString& name) {
  const qsizetype at = name.lastIndexOf('#');
  return at < 0 ? std::nullopt : fromHex(name.mid(at, 7).toStdString());
}

QString withoutColor(const QString& name) {
  const qsizetype at = name.lastIndexOf('#');
  return colorIn(name) ? name.left(at).trimmed() + name.mid(at + 7) : name;
}

template <class Visit>
void eachRow(const QTreeWidget& list, Visit visit) {
  for (int i = 0; i < list.topLevelItemCount(); ++i) {
    QTreeWidgetItem* item = list.topLevelItem(i);
    visit(*item);
    for (int j = 0; j < item->childCount(); ++j) visit(*item->child(j));
  }
}

}  // namespace

StepsPanel::StepsPanel(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 4, 0, 0);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("History")));
  list_ = momentList("history", tr("History"));
  list_->setToolTip(tr("Every step of the work; click one to go there. F2, or a right click, names one"));
  // a double click would go there first
  list_->setEditTriggers(QAbstractItemView::EditKeyPressed);
  list_->setRootIsDecorated(true);
  list_->setIndentation(14);
  column->addWidget(list_);
  column->addWidget(buildLater());
  column->addWidget(new MemoryButton(session_));
  connect(list_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item) {
    session_.settleStrokes();
    session_.goTo(placeIn(*item, kLast));
  });
  connect(list_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) {
    if (!refreshing_) rename(item);
  });
  connect(list_, &QTreeWidget::itemExpanded, this, &StepsPanel::wishPicture);
  connect(list_, &QTreeWidget::customContextMenuRequested, this, &StepsPanel::menu);
  connect(&session_, &Session::left, list_, &QTreeWidget::clear);
  connect(&pictures_, &MomentPictures::made, this, [this](quint64 key) {
    if (!session_.isOpen()) return;
    refreshing_ = true;
    const auto& steps = session_.history().steps();
    eachRow(*list_, [&](QTreeWidgetItem& item) {
      if (placeIn(item, kLast) < steps.size() && steps[placeIn(item, kLast)]->id == key) showPicture(item);
    });
    refreshing_ = false;
    wishPicture();
  });
  connect(&session_, &Session::opened, this, [this] {
    pictures_.forgetAll();
    layerOfStep_.clear();
    rows_.clear();
    list_->clear();
  });
  connect(&session_, &Session::documentChanged, this, [this] {
    if (isVisible()) refresh();
  });
}

// What the next change cuts off, and a way to keep it.
QWidget* StepsPanel::buildLater() {
  later_ = new QWidget;
  auto* row = new QHBoxLayout(later_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  laterCount_ = quietLabel(QString());
  laterCount_->setObjectName("later steps");
  row->addWidget(laterCount_, 1);
  auto* keep = new QPushButton(tr("Keep"));
  keep->setObjectName("keep later");
  keep->setToolTip(tr("Keeps the last of them as a checkpoint, to compare with and to restore from"));
  row->addWidget(keep);
  connect(keep, &QPushButton::clicked, &session_, &Session::keepLater);
  later_->hide();
  return later_;
}

// Of a long history only steps that are new are looked at: a stroke must not wait for it.
std::vector<uint32_t> StepsPanel::changedLayers() {
  const auto& steps = session_.history().steps();
  std::vector<uint32_t> out(steps.size(), 0);
  for (size_t i = 1; i < steps.size(); ++i) {
    const auto known = layerOfStep_.constFind(steps[i]->id);
    out[i] = known != layerOfStep_.constEnd() ? *known
                                              : layerChangedBy(steps[i - 1]->document, steps[i]->document);
    if (known == layerOfStep_.constEnd()) layerOfStep_[steps[i]->id] = out[i];
  }
  return out;
}

void StepsPanel::fill(QTreeWidgetItem& item, size_t first, size_t last) {
  const auto& steps = session_.history().steps();
  const Step &begin = *steps[first], &end = *steps[last];
  const QString name = QString::fromStdString(end.name);
  QString text = QString::fromStdString(begin.given);
  if (text.isEmpty()) {
    bool alike = true;
    for (size_t i = first; i <= last; ++i)
      alike &= withoutColor(QString::fromStdString(steps[i]->name)) == withoutColor(name);
    text = !alike ? tr("%n steps", nullptr, static_cast<int>(last - first + 1)) : withoutColor(name);
    if (alike && last > first) text += QString(" ×%1").arg(last - first + 1);
  }
  QStringList detail;
  if (end.time != 0) detail << timeOfDay(end.time);
  if (const LayerPointer layer = layerOf(end.document, layerOfStep_.value(end.id, 0)))
    detail << QString::fromStdString(layer->name);
  item.setText(0, text);
  item.setData(0, kDetail, detail.join(" · "));
  item.setToolTip(0, QStringList{begin.given.empty() ? text : text + " (" + name + ")", wholeTime(end.time),
                                 detail.mid(1).join(QString())}
                         .join("\n")
                         .trimmed());
  item.setData(0, kFirst, QVariant::fromValue<qulonglong>(first));
  item.setData(0, kLast, QVariant::fromValue<qulonglong>(last));
  item.setFlags(item.flags() | Qt::ItemIsEditable);
  showPicture(item);
}

QTreeWidgetItem* StepsPanel::rowOf(const Row& row) {
  auto* item = new QTreeWidgetItem;
  const size_t first = row.group.first, last = first + row.group.count - 1;
  fill(*item, first, last);
  for (size_t i = first; row.group.count > 1 && i <= last; ++i) {
    auto* step = new QTreeWidgetItem(item);
    fill(*step, i, i);
  }
  return item;
}

void StepsPanel::refresh() {
  if (!session_.isOpen()) return;
  const auto& steps = session_.history().steps();
  const std::vector<StepPointer> all(steps.begin(), steps.end());
  std::vector<Row> rows;
  for (const StepGroup& g : groupedSteps(all, changedLayers()))
    rows.push_back({g, all[g.first]->id, all[g.first + g.count - 1]->id, all[g.first]->given});
  // only rows that are new, or stand elsewhere
  const auto same = static_cast<size_t>(std::ranges::mismatch(rows_, rows).in1 - rows_.begin());
  refreshing_ = true;
  while (list_->topLevelItemCount() > static_cast<int>(same)) {
    delete list_->takeTopLevelItem(list_->topLevelItemCount() - 1);
  }
  for (size_t i = same; i < rows.size(); ++i) list_->addTopLevelItem(rowOf(rows[i]));
  rows_ = std::move(rows);
  const auto later = static_cast<int>(steps.size() - 1 - session_.history().current());
  later_->setVisible(later > 0);
  laterCount_->setText(tr("%n later step(s) go with the next change", nullptr, later));
  mark();
  refreshing_ = false;
  wishPicture();
}

// Where one is, and what lies after it.
void StepsPanel::mark() {
  const size_t current = session_.history().current();
  QTreeWidgetItem* here = nullptr;
  eachRow(*list_, [&](QTreeWidgetItem& item) {
    const QColor color = placeIn(item, kFirst) <= current ? look::kText : QColor(0x9c, 0x9c, 0x9c);
    if (item.foreground(0).color() != color) item.setForeground(0, color);
    const bool holds = placeIn(item, kFirst) <= current && current <= placeIn(item, kLast);
    const bool seen = !item.parent() || item.parent()->isExpanded();
    if (holds && seen) here = &item;
  });
  list_->setCurrentItem(here);
}

void StepsPanel::rename(QTreeWidgetItem* item) {
  // the row is made anew, and is being edited right now
  QMetaObject::invokeMethod(
      this,
      [this, text = item->text(0).trimmed(), id = session_.history().steps()[placeIn(*item, kFirst)]->id] {
        session_.settleStrokes();
        if (const auto place = placeOfStep(id)) session_.callStep(*place, text);
      },
      Qt::QueuedConnection);
}

std::optional<size_t> StepsPanel::placeOfStep(uint64_t id) const {
  if (!session_.isOpen()) return std::nullopt;
  const auto& steps = session_.history().steps();
  const auto at = std::ranges::find(steps, id, &Step::id);
  if (at == steps.end()) return std::nullopt;
  return static_cast<size_t>(at - steps.begin());
}

void StepsPanel::menu(const QPoint& position) {
  QTreeWidgetItem* item = list_->itemAt(position);
  if (!item) return;
  QMenu menu;
  // by their numbers: rows are made anew while the menu is open
  const auto& steps = session_.history().steps();
  const uint64_t first = steps[placeIn(*item, kFirst)]->id, last = steps[placeIn(*item, kLast)]->id;
  menu.addAction(tr("Go there"), this, [this, last] {
    session_.settleStrokes();
    if (const auto place = placeOfStep(last)) session_.goTo(*place);
  });
  menu.addAction(tr("Name it"), this, [this, first, last] {
    eachRow(*list_, [&](QTreeWidgetItem& row) {
      if (placeIn(row, kFirst) == placeOfStep(first) && placeIn(row, kLast) == placeOfStep(last))
        list_->editItem(&row, 0);
    });
  });
  if (!steps[placeIn(*item, kFirst)]->given.empty())
    menu.addAction(tr("Take the name away"), this, [this, first] {
      if (const auto place = placeOfStep(first)) session_.callStep(*place, {});
    });
  menu.exec(list_->viewport()->mapToGlobal(position));
}

void StepsPanel::showPicture(QTreeWidgetItem& item) {
  const Step& step = *session_.history().steps()[placeIn(item, kLast)];
  const QPixmap* known = pictures_.known(step.id);
  QPixmap picture(2 * kMomentWide, 2 * kMomentHigh);
  picture.setDevicePixelRatio(2);
  picture.fill(look::kWell);
  QPainter painter(&picture);
  if (known && !known->isNull()) painter.drawPixmap(0, 0, *known);
  if (const auto color = colorIn(QString::fromStdString(step.name))) {
    painter.fillRect(kMomentWide - 13, kMomentHigh - 13, 13, 13, look::kWell);
    painter.fillRect(kMomentWide - 12, kMomentHigh - 12, 12, 12, toQColor(*color));
  }
  painter.end();
  item.setIcon(0, QIcon(picture));
}

void StepsPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (session_.isOpen()) refresh();
  wishPicture();
}

// The next one that is looked at and was not made, the newest first.
void StepsPanel::wishPicture() {
  if (!isVisible() || pictures_.waiting() || !session_.isOpen()) return;
  const auto& steps = session_.history().steps();
  const QRect view = list_->viewport()->rect();
  QTreeWidgetItem* item = list_->itemAt(4, view.bottom() - 4);
  if (!item) item = list_->topLevelItem(list_->topLevelItemCount() - 1);
  for (; item && list_->visualItemRect(item).intersects(view); item = list_->itemAbove(item)) {
    const size_t first = placeIn(*item, kFirst), last = placeIn(*item, kLast);
    if (pictures_.known(steps[last]->id)) continue;
    return pictures_.wish({steps[last]->id, steps[last]->document,
                           first > 0 ? std::optional(steps[first - 1]->document) : std::nullopt});
  }
}

}  // namespace juvenor::app

#include "moc_steps.cpp"
