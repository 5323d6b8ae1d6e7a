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
#include "app/session/words.h"

namespace juvenor::app {
namespace {

constexpr int kColumns = 6;
const QSize kPicture(88, 44);

// Where the kinds of one stage lie on the card: side by side with those of other stages where there is room.
struct Place {
  int row = 0, column = 0;
};
class Packing {
 public:
  Place next(int kinds) {
    if (column_ > 0 && column_ + kinds > kColumns) newRow(1);
    const Place out{row_, column_};
    column_ += kinds;
    if (column_ >= kColumns) newRow((kinds + kColumns - 1) / kColumns);
    return out;
  }

 private:
  void newRow(int rows) {
    row_ += rows;
    column_ = 0;
  }
  int row_ = 0, column_ = 0;
};

}  // namespace

void KindCard::drawAhead() {
  for (const SourceKind* kind : sourceKinds()) showKindIcon(nullptr, *kind, kPicture);
}

QToolButton* KindCard::buttonOf(const SourceKind& kind) {
  auto* b = new QToolButton;
  b->setObjectName("kind " + QString::fromUtf8(kind.key));
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setProperty("narrow", true);
  showKindIcon(b, kind, kPicture);
  b->setText(told(kind.label));
  b->setToolTip(told(kind.does));
  connect(b, &QToolButton::clicked, this, [this, &kind] {
    const int wanted = strata_->checkedId();
    close();
    emit chosen(&kind, wanted < 0 ? kind.stratum : static_cast<Stratum>(wanted));
  });
  return b;
}

KindCard::KindCard(QWidget* parent) : QFrame(parent, Qt::Popup) {
  setObjectName("kind card");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 14, 10);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("Add a layer")));
  std::map<int, std::vector<const SourceKind*>> byStage;
  for (const SourceKind* kind : sourceKinds()) byStage[kind->stage].push_back(kind);
  strata_ = new QButtonGroup(this);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(4);
  Packing packing;
  for (const auto& [stage, kinds] : byStage) {
    const auto count = static_cast<int>(kinds.size());
    const Place at = packing.next(count);
    grid->addWidget(quietLabel(stage < 0 ? tr("Every stage") : stageName(stage)), 2 * at.row, at.column, 1,
                    std::min(count, kColumns - at.column));
    for (int i = 0; i < count; ++i)
      grid->addWidget(buttonOf(*kinds[static_cast<size_t>(i)]), 2 * (at.row + i / kColumns) + 1,
                      at.column + i % kColumns);
  }
  column->addLayout(grid);
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
