#include "app/stage/patterns_page.h"

#include <QGridLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/kind_icon.h"
#include "app/controls/labels.h"
#include "app/session/add_layer.h"
#include "app/session/words.h"

namespace juvenor::app {
namespace {

constexpr QSize kGrowPicture(84, 42);

bool growsHere(const SourceKind& kind) {
  return kind.stage == kPatternStage;
}

}  // namespace

PatternsPage::PatternsPage(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("Pattern")));
  share_ = quietLabel({});
  column->addWidget(share_);
  column->addWidget(quietLabel(tr("Grows on the form and stays live; large first, then small between it")));
  auto* grid = new QGridLayout;
  grid->setSpacing(4);
  buildKinds(*grid);
  column->addLayout(grid);
  next_ = quietLabel({});
  column->addWidget(next_);
  connect(addNext(*column, "comb pattern", tr("Comb which way it lies"),
                  tr("Stroke from the nose back and down the throat; a click pins a direction (C)")),
          &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Comb); });
  connect(addNext(*column, "touch pattern", tr("Work on it by hand"),
                  tr("Smaller at lips and lids, larger on the back; soothe, tint or lose single ones (W)")),
          &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Touch); });
  connect(
      addNext(*column, "mask pattern", tr("Let it die out"),
              tr("Paint its mask where skin is bare or rubbed: lips, lids, bony rims, inside of ears (K)")),
      &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Mask); });
  connect(
      addNext(*column, "set pattern", tr("Its sizes and relief"), tr("Everything it is set to, under Layer")),
      &QPushButton::clicked, this, &PatternsPage::settingsWanted);
  column->addStretch();
}

void PatternsPage::buildKinds(QGridLayout& grid) {
  int place = 0;
  for (const SourceKind* kind : sourceKinds()) {
    if (!growsHere(*kind)) continue;
    auto* b = new QToolButton;
    b->setObjectName("grow " + QString::fromStdString(std::string(kind->key)));
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIconSize(kGrowPicture);
    showKindIcon(b, *kind, kGrowPicture);
    b->setText(told(kind->label));
    b->setToolTip(told(kind->does));
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    grid.addWidget(b, place / 2, place % 2);
    ++place;
    connect(b, &QToolButton::clicked, this, [this, kind] {
      if (session_.isOpen() && addLayerOf(session_, *kind, kind->stratum)) emit settingsWanted();
    });
  }
}

QPushButton* PatternsPage::addNext(QVBoxLayout& column, const char* name, const QString& words,
                                   const QString& tip) {
  auto* b = new QPushButton(words);
  b->setObjectName(name);
  b->setToolTip(tip);
  column.addWidget(b);
  nexts_.push_back(b);
  return b;
}

void PatternsPage::refresh() {
  const Document& d = session_.document();
  const auto own =
      std::ranges::count_if(d.layers, [](const auto& l) { return stageOf(*l) == kPatternStage; });
  share_->setText(tr("%1 of %2 layers, marked in the Strata").arg(own).arg(d.layers.size()));
  const LayerPointer active = layerOf(d, d.activeLayer);
  const bool pattern = active && growsHere(active->source->kind());
  for (QPushButton* b : nexts_) b->setEnabled(pattern && !active->locked);
  next_->setText(pattern ? tr("Next, on “%1”").arg(QString::fromStdString(active->name))
                         : tr("Next, on a layer of these: choose it in the Strata"));
}

}  // namespace juvenor::app

#include "moc_patterns_page.cpp"
