#include "app/strata/kind_card.h"

#include <QButtonGroup>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScreen>
#include <QToolButton>
#include <map>

#include "app/controls/kind_icon.h"
#include "app/controls/labels.h"
#include "app/session/stages.h"

namespace juvenor::app {
namespace {

constexpr int kWide = 108, kHigh = 54, kColumns = 5;

}  // namespace

KindCard::KindCard(QWidget* parent) : QFrame(parent, Qt::Popup) {
  setObjectName("kind card");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 12, 14, 12);
  column->setSpacing(8);
  column->addWidget(titleLabel(tr("Add a layer")));
  std::map<int, std::vector<const SourceKind*>> byStage;
  for (const SourceKind* kind : sourceKinds()) byStage[kind->stage].push_back(kind);
  strata_ = new QButtonGroup(this);
  for (const auto& [stage, kinds] : byStage) {
    column->addWidget(quietLabel(stage < 0 ? tr("Every stage") : stageNames().value(stage)));
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    int place = 0;
    for (const SourceKind* kind : kinds) {
      auto* b = new QToolButton;
      b->setObjectName("kind " + QString::fromUtf8(kind->key));
      b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
      b->setIconSize({kWide, kHigh});
      b->setIcon(kindIcon(*kind, {kWide, kHigh}));
      b->setText(QString::fromUtf8(kind->label));
      b->setToolTip(QString::fromUtf8(kind->does));
      grid->addWidget(b, place / kColumns, place % kColumns);
      ++place;
      connect(b, &QToolButton::clicked, this, [this, kind] {
        const int wanted = strata_->checkedId();
        close();
        emit chosen(kind, wanted < 0 ? kind->stratum : static_cast<Stratum>(wanted));
      });
    }
    for (; place % kColumns; ++place) grid->setColumnStretch(place % kColumns, 1);
    column->addLayout(grid);
  }
  auto* row = new QHBoxLayout;
  row->addWidget(quietLabel(tr("Lies in")));
  const QString names[] = {tr("its usual stratum"), tr("Flesh"), tr("Pigment"), tr("Surface")};
  for (int i = 0; i < 4; ++i) {
    auto* b = new QPushButton(names[i]);
    b->setObjectName(QString("stratum %1").arg(i - 1));
    b->setCheckable(true);
    b->setChecked(i == 0);
    strata_->addButton(b, i == 0 ? -2 : i - 1);
    row->addWidget(b);
  }
  row->addStretch();
  column->addLayout(row);
}

void KindCard::openAt(const QPoint& globalTopRight) {
  adjustSize();
  QPoint at = globalTopRight - QPoint(width(), 0);
  if (const QScreen* screen = parentWidget()->screen()) {
    const QRect inside = screen->availableGeometry();
    at.setX(std::clamp(at.x(), inside.left(), std::max(inside.left(), inside.right() - width())));
    at.setY(std::clamp(at.y(), inside.top(), std::max(inside.top(), inside.bottom() - height())));
  }
  move(at);
  show();
}

}  // namespace juvenor::app

#include "moc_kind_card.cpp"
