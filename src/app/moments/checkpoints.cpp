#include "app/moments/checkpoints.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/moments/moment_list.h"
#include "core/document/edits/edit_checkpoints.h"

namespace juvenor::app {
namespace {

uint32_t idOfRow(const QTreeWidgetItem& item) {
  return item.data(0, Qt::UserRole).toUInt();
}

}  // namespace

CheckpointsPanel::CheckpointsPanel(Session& session, Easel& easel) : session_(session), easel_(easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("Checkpoints")));
  empty_ = quietLabel(tr("Keep the work as it is now: to compare with later, and to paint back from."));
  column->addWidget(empty_);
  list_ = momentList("checkpoints", tr("Checkpoints"));
  list_->setToolTip(
      tr("The marked one is compared and restored from; double click to name it, right click "
         "for more"));
  column->addWidget(list_);
  auto* keep = new QPushButton(tr("Keep a checkpoint"));
  keep->setObjectName("keep checkpoint");
  keep->setToolTip(tr("Keeps all layers as they are now (Ctrl+K)"));
  column->addWidget(keep);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  compare_ = new QPushButton(tr("Compare"));
  compare_->setObjectName("compare checkpoint");
  compare_->setCheckable(true);
  compare_->setToolTip(
      tr("Shows it left of a line on the easel that can be dragged; Shift+Q shows all of it"));
  restore_ = new QPushButton(tr("Restore"));
  restore_->setObjectName("restore checkpoint");
  restore_->setCheckable(true);
  restore_->setToolTip(tr("Takes the tool in hand that paints back what was (Q)"));
  mask_ = new QPushButton(tr("Mask"));
  mask_->setObjectName("restore mask");
  mask_->setCheckable(true);
  mask_->setToolTip(tr("Restore paints back the layer's mask, not what it is painted with"));
  for (QPushButton* b : {compare_, restore_, mask_}) {
    b->setStyleSheet("padding: 4px 4px;");
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  connect(keep, &QPushButton::clicked, &session_, &Session::keepCheckpoint);
  connect(compare_, &QPushButton::clicked, this,
          [this](bool on) { easel_.split().compare(on ? chosen() : 0); });
  connect(restore_, &QPushButton::clicked, this,
          [this](bool on) { session_.tools().setTool(on ? Tool::Restore : Tool::Airbrush); });
  connect(mask_, &QPushButton::clicked, this, [this](bool on) {
    session_.tools().setRestoresMask(on);
    if (on) session_.tools().setTool(Tool::Restore);
  });
  connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
    if (refreshing_ || !item) return;
    session_.tools().setCheckpoint(idOfRow(*item));
    if (easel_.split().checkpoint() != 0) easel_.split().compare(idOfRow(*item));
  });
  connect(list_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) {
    if (!refreshing_) rename(item);
  });
  connect(list_, &QTreeWidget::customContextMenuRequested, this, &CheckpointsPanel::menu);
  connect(&pictures_, &MomentPictures::made, this, [this] {
    shown_.clear();
    refresh();
  });
  connect(&session_, &Session::opened, this, [this] {
    pictures_.forgetAll();
    shown_.clear();
  });
  connect(&session_, &Session::documentChanged, this, &CheckpointsPanel::refresh);
  connect(&session_.tools(), &Tools::changed, this, &CheckpointsPanel::refreshButtons);
  connect(&easel_.split(), &SplitLine::changed, this, &CheckpointsPanel::refreshButtons);
  refresh();
}

// The one that is chosen, else the last.
uint32_t CheckpointsPanel::chosen() const {
  const auto& kept = session_.document().checkpoints;
  const uint32_t wanted = session_.tools().checkpoint();
  if (kept.empty()) return 0;
  return std::ranges::find(kept, wanted, &Checkpoint::id) != kept.end() ? wanted : kept.back().id;
}

void CheckpointsPanel::rename(QTreeWidgetItem* item) {
  // the row is made anew, and is being edited right now
  QMetaObject::invokeMethod(
      this,
      [this, name = item->text(0).trimmed().toStdString(), id = idOfRow(*item)] {
        const Checkpoint* kept = checkpointOf(session_.document(), id);
        if (kept && !name.empty() && name != kept->name) {
          session_.settleStrokes();
          session_.apply(withCheckpointNamed(session_.document(), id, name), tr("Name checkpoint"));
        }
        shown_.clear();
        refresh();
      },
      Qt::QueuedConnection);
}

void CheckpointsPanel::menu(const QPoint& position) {
  QTreeWidgetItem* item = list_->itemAt(position);
  const Checkpoint* kept = item ? checkpointOf(session_.document(), idOfRow(*item)) : nullptr;
  if (!kept) return;
  const auto apply = [this](const QString& name, auto edit) {
    session_.settleStrokes();
    session_.apply(edit(session_.document()), name);
  };
  QMenu menu;
  menu.addAction(tr("Name it"), this, [this, id = kept->id] {
    // rows are made anew while the menu is open
    for (int i = 0; i < list_->topLevelItemCount(); ++i)
      if (idOfRow(*list_->topLevelItem(i)) == id) list_->editItem(list_->topLevelItem(i), 0);
  });
  menu.addAction(tr("Bring all of it back"), this, [apply, id = kept->id] {
    apply(tr("Bring checkpoint back"), [id](const Document& d) { return withCheckpointBack(d, id); });
  });
  QMenu* layers = menu.addMenu(tr("Bring a layer back"));
  for (size_t i = kept->layers.size(); i-- > 0;) {
    const Layer& layer = *kept->layers[i];
    layers->addAction(QString::fromStdString(layer.name), this, [apply, id = kept->id, of = layer.id] {
      apply(tr("Bring layer back"), [id, of](const Document& d) { return withKeptLayer(d, id, of); });
    });
  }
  menu.addSeparator();
  menu.addAction(tr("Forget it"), this, [apply, id = kept->id] {
    apply(tr("Forget checkpoint"), [id](const Document& d) { return withoutCheckpoint(d, id); });
  });
  menu.exec(list_->viewport()->mapToGlobal(position));
}

void CheckpointsPanel::refreshButtons() {
  const bool any = session_.isOpen() && !session_.document().checkpoints.empty();
  compare_->setEnabled(any);
  restore_->setEnabled(any);
  compare_->setChecked(easel_.split().checkpoint() != 0);
  restore_->setChecked(session_.tools().tool() == Tool::Restore);
  mask_->setEnabled(any);
  mask_->setChecked(session_.tools().restoresMask());
}

void CheckpointsPanel::refresh() {
  refreshButtons();
  const std::vector<Checkpoint> none, &kept = session_.isOpen() ? session_.document().checkpoints : none;
  empty_->setVisible(kept.empty());
  list_->setVisible(!kept.empty());
  std::vector<Row> rows;
  for (const Checkpoint& c : kept) rows.push_back({c.id, c.name, c.time});
  if (kept.empty() || (rows == shown_ && list_->topLevelItemCount() > 0)) return;
  refreshing_ = true;
  list_->clear();
  for (const Checkpoint& c : kept) {
    auto* item = new QTreeWidgetItem({QString::fromStdString(c.name)});
    item->setData(0, Qt::UserRole, c.id);
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    item->setData(0, kDetail, wholeTime(c.time));
    if (const QPixmap* picture = pictures_.known(c.id)) item->setIcon(0, QIcon(*picture));
    list_->addTopLevelItem(item);
    if (c.id == chosen()) list_->setCurrentItem(item);
  }
  list_->setFixedHeight(std::min<int>(4, static_cast<int>(kept.size())) * (kMomentHigh + 6) + 6);
  shown_ = std::move(rows);
  refreshing_ = false;
  wishPictures();
}

void CheckpointsPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  wishPictures();
}

void CheckpointsPanel::wishPictures() {
  if (!isVisible() || pictures_.waiting()) return;
  for (const Row& c : shown_)
    if (!pictures_.known(c.id))
      if (auto then = asKept(session_.document(), c.id))
        return pictures_.wish({c.id, std::move(*then), std::nullopt});
}

}  // namespace juvenor::app

#include "moc_checkpoints.cpp"
