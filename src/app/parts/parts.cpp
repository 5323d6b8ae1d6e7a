#include "app/parts/parts.h"

#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/carry/twin.h"

namespace juvenor::app {
PartsPanel::PartsPanel(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 8, 4);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("Parts")));
  list_ = new QListWidget;
  list_->setObjectName("parts");
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  list_->setToolTip(tr("The marked part takes paint. Tick to show a part; right click to isolate it"));
  list_->setAccessibleName(tr("Parts"));
  column->addWidget(list_);
  connect(list_, &QListWidget::customContextMenuRequested, this, &PartsPanel::menu);
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (!refreshing_ && row >= 0) session_.setActivePart(static_cast<uint32_t>(row));
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    if (refreshing_) return;
    std::set<uint32_t> hidden = session_.document().hiddenParts;
    const auto part = static_cast<uint32_t>(list_->row(item));
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

void PartsPanel::menu(const QPoint& position) {
  const int row = list_->row(list_->itemAt(position));
  QMenu menu;
  if (row >= 0)
    menu.addAction(tr("Isolate"), this, [this, row] {
      std::set<uint32_t> hidden;
      for (uint32_t p = 0; p < session_.document().sculpt->parts.size(); ++p)
        if (static_cast<int>(p) != row) hidden.insert(p);
      setHidden(hidden, tr("Isolate part"));
    });
  if (row >= 0) addTwins(menu, static_cast<uint32_t>(row));
  if (row >= 0)
    menu.addAction(tr("Write it alone …"), this,
                   [this, row] { emit writeWanted(static_cast<uint32_t>(row)); });
  menu.addAction(tr("Show all"), this, [this] { setHidden({}, tr("Show all parts")); });
  menu.exec(list_->mapToGlobal(position));
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
      item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
      list_->addItem(item);
    }
    item->setText(QString::fromStdString(parts[i]));
    item->setCheckState(d.hiddenParts.contains(static_cast<uint32_t>(i)) ? Qt::Unchecked : Qt::Checked);
  }
  list_->setCurrentRow(session_.activePart() == kNone ? -1 : static_cast<int>(session_.activePart()));
  list_->setMaximumHeight(std::min(12, list_->count()) * 27 + 8);
  refreshing_ = false;
}

}  // namespace juvenor::app

#include "moc_parts.cpp"
