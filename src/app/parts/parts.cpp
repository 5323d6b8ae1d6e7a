#include "app/parts/parts.h"

#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/carry/twin.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edits.h"

namespace juvenor::app {
PartsPanel::PartsPanel(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 8, 4);
  column->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->addWidget(titleLabel(tr("Parts")), 1);
  auto* more = new QPushButton("…");
  more->setObjectName("part menu");
  more->setProperty("narrow", true);
  more->setFixedSize(28, 22);
  more->setFocusPolicy(Qt::TabFocus);
  more->setToolTip(tr("Take the marked part apart, make parts of masks, join, write, copy"));
  more->setAccessibleName(tr("What can be done with parts"));
  connect(more, &QPushButton::clicked, this,
          [this, more] { menu(list_->currentRow(), more->mapToGlobal(QPoint(0, more->height()))); });
  head->addWidget(more);
  column->addLayout(head);
  list_ = new QListWidget;
  list_->setObjectName("parts");
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  list_->setToolTip(
      tr("The marked part takes paint. Tick to show a part, double click to rename it; right click "
         "for what else can be done with it"));
  list_->setAccessibleName(tr("Parts"));
  column->addWidget(list_);
  column->addWidget(
      quietLabel(tr("… takes a part apart, makes one of a mask, joins and hides. The Lasso makes one "
                    "of what you go around.")));
  connect(list_, &QListWidget::customContextMenuRequested, this, [this](const QPoint& position) {
    menu(list_->row(list_->itemAt(position)), list_->mapToGlobal(position));
  });
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (!refreshing_ && row >= 0) session_.setActivePart(static_cast<uint32_t>(row));
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    if (refreshing_) return;
    std::set<uint32_t> hidden = session_.document().hiddenParts;
    const auto part = static_cast<uint32_t>(list_->row(item));
    if (item->text().toStdString() != session_.document().sculpt->parts[part]) return rename(item);
    if (item->checkState() == Qt::Checked)
      hidden.erase(part);
    else
      hidden.insert(part);
    setHidden(hidden, item->checkState() == Qt::Checked ? tr("Show part") : tr("Hide part"));
  });
  connect(&session_, &Session::documentChanged, this, &PartsPanel::refresh);
}

void PartsPanel::setHidden(std::set<uint32_t> hidden, const QString& name) {
  session_.settleStrokes();
  Document d = session_.document();
  d.hiddenParts = std::move(hidden);
  session_.apply(std::move(d), name);
}

void PartsPanel::menu(int row, const QPoint& position) {
  if (!session_.isOpen()) return;
  QMenu menu;
  if (row >= 0)
    menu.addAction(tr("Isolate"), this, [this, row] {
      std::set<uint32_t> hidden;
      for (uint32_t p = 0; p < session_.document().sculpt->parts.size(); ++p)
        if (static_cast<int>(p) != row) hidden.insert(p);
      setHidden(hidden, tr("Isolate part"));
    });
  menu.addAction(tr("Show all"), this, [this] { setHidden({}, tr("Show all parts")); });
  menu.addSeparator();
  if (row >= 0) addMaking(menu, static_cast<uint32_t>(row));
  addByMask(menu);
  if (row >= 0) addJoining(menu, static_cast<uint32_t>(row));
  if (session_.document().parts.any())
    menu.addAction(tr("The parts of the file again"), this,
                   [this] { session_.edit(tr("Parts of the file"), withFileParts); });
  menu.addSeparator();
  if (row >= 0) addTwins(menu, static_cast<uint32_t>(row));
  if (row >= 0)
    menu.addAction(tr("Write it alone …"), this,
                   [this, row] { emit writeWanted(static_cast<uint32_t>(row)); });
  menu.exec(position);
}

void PartsPanel::addTwins(QMenu& menu, uint32_t part) {
  const auto& parts = session_.document().sculpt->parts;
  QMenu* twins = menu.addMenu(tr("Copy paint and masks to its twin"));
  twins->setEnabled(parts.size() > 1);
  for (uint32_t twin = 0; twin < parts.size(); ++twin) {
    if (twin == part) continue;
    twins->addAction(QString::fromStdString(parts[twin]), this,
                     [this, part, twin] { copyToTwin(part, twin); });
  }
}

void PartsPanel::addMaking(QMenu& menu, uint32_t part) {
  const Sculpt& sculpt = *session_.document().sculpt;
  const QString name = QString::fromStdString(sculpt.parts[part]);
  QMenu* apart = menu.addMenu(tr("Take “%1” apart").arg(name));
  apart->addAction(tr("Into loose shells"), this, [this, part] {
    session_.edit(tr("Loose shells"),
                  [part](const Document& d, const Progress& p) { return withShellsApart(d, part, p); });
  });
  for (size_t set = 0; set < sculpt.uvSets.size(); ++set)
    apart->addAction(tr("Into islands of “%1”").arg(QString::fromStdString(sculpt.uvSets[set].name)), this,
                     [this, part, set] {
                       session_.edit(tr("UV islands"), [part, set](const Document& d, const Progress& p) {
                         return withIslandsApart(d, part, set, p);
                       });
                     });
}

void PartsPanel::makeByMask(uint32_t layer, bool hide) {
  const QString name = hide ? tr("Hidden") : layer == kGuard ? tr("Guarded") : tr("Masked");
  session_.edit(hide ? tr("Hide by mask") : tr("Part of a mask"),
                [=, called = name.toStdString()](const Document& d, const Progress& p) -> Result<Document> {
                  // what a mask hides is hidden, what it shows is a part; what is guarded either way
                  const auto where = hide || layer == kGuard ? hiddenByMask(d, layer) : maskFieldOf(d, layer);
                  if (!where) return where.error();
                  auto made = withPartWhere(d, *where, called, p);
                  if (!made || !hide) return made;
                  const auto& before = d.sculpt->parts;
                  for (uint32_t part = 0; part < made->sculpt->parts.size(); ++part)
                    if (std::ranges::find(before, made->sculpt->parts[part]) == before.end())
                      made->hiddenParts.insert(part);
                  return made;
                });
}

void PartsPanel::addByMask(QMenu& menu) {
  const Document& d = session_.document();
  const LayerPointer layer = layerOf(d, d.activeLayer);
  const bool masked = layer && layer->mask;
  const uint32_t id = layer ? layer->id : 0;
  const QString name = layer ? QString::fromStdString(layer->name) : QString();
  const auto add = [&](const QString& text, uint32_t of, bool hide, bool enabled) {
    menu.addAction(text, this, [this, of, hide] { makeByMask(of, hide); })->setEnabled(enabled);
  };
  add(masked ? tr("A part of what the mask of “%1” shows").arg(name) : tr("A part of what the mask shows"),
      id, false, masked);
  add(tr("A part of what is guarded"), kGuard, false, d.guard.has_value());
  add(tr("Hide what the mask hides"), id, true, masked);
  add(tr("Hide what is guarded"), kGuard, true, d.guard.has_value());
}

void PartsPanel::addJoining(QMenu& menu, uint32_t part) {
  const Document& d = session_.document();
  if (!d.parts.any()) return;
  const auto& own = d.parts.labels->own;
  if (std::ranges::count(own, own[part]) < 2) return;
  QMenu* joining = menu.addMenu(tr("Take another part into it"));
  for (uint32_t other = 0; other < own.size(); ++other)
    if (other != part && own[other] == own[part])
      joining->addAction(QString::fromStdString(d.sculpt->parts[other]), this, [this, part, other] {
        session_.edit(tr("Join parts"), [part, other](const Document& now, const Progress& p) {
          return withPartsJoined(now, part, other, p);
        });
      });
}

void PartsPanel::rename(QListWidgetItem* item) {
  const auto part = static_cast<uint32_t>(list_->row(item));
  session_.edit(tr("Rename part"),
                [part, name = item->text().trimmed().toStdString()](const Document& d, const Progress&) {
                  return withPartRenamed(d, part, name);
                });
  refresh();
}

void PartsPanel::copyToTwin(uint32_t part, uint32_t twin) {
  const QString name = QString::fromStdString(session_.document().sculpt->parts[twin]);
  session_.edit(tr("Copy to “%1”").arg(name),
                [part, twin](const Document& d, const Progress& p) -> Result<Document> {
                  const auto fit = twinFit(d, part, twin, {}, p);
                  if (!fit) return fit.error();
                  auto copied = copiedToTwin(d, part, twin, *fit, {}, p);
                  if (!copied) return copied.error();
                  return std::move(copied->document);
                });
}

void PartsPanel::refresh() {
  refreshing_ = true;
  const Document& d = session_.document();
  const auto& parts = d.sculpt->parts;
  if (list_->count() != static_cast<int>(parts.size())) list_->clear();
  for (size_t i = 0; i < parts.size(); ++i) {
    QListWidgetItem* item = list_->item(static_cast<int>(i));
    if (!item) {
      item = new QListWidgetItem;
      item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable | Qt::ItemIsEditable);
      list_->addItem(item);
    }
    item->setText(QString::fromStdString(parts[i]));
    item->setCheckState(d.hiddenParts.contains(static_cast<uint32_t>(i)) ? Qt::Unchecked : Qt::Checked);
  }
  list_->setCurrentRow(session_.activePart() == kNone ? -1 : static_cast<int>(session_.activePart()));
  const int row = std::max(20, list_->sizeHintForRow(0));
  list_->setFixedHeight(std::min(12, std::max(1, list_->count())) * row + 8);
  refreshing_ = false;
}

}  // namespace juvenor::app

#include "moc_parts.cpp"
