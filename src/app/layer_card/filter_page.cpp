#include "app/layer_card/filter_page.h"

#include <QButtonGroup>
#include <QGridLayout>
#include <QKeySequence>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"

namespace juvenor::app {

template <>
struct KindSettings<Filter> {
  static const Filter* of(const LayerSource& s) { return filterOf(s); }
  static SourcePointer source(Filter settings) { return filterSource(std::move(settings)); }
};

namespace {

QVBoxLayout* section(QVBoxLayout* column, QWidget*& box) {
  box = new QWidget;
  auto* inside = new QVBoxLayout(box);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(3);
  column->addWidget(box);
  return inside;
}

}  // namespace

FilterPage::FilterPage(Session& session) : PatternPage(session) {
  setObjectName("filter page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildWays(column);
  addChannels(column, &Filter::on);
  addSetting(column, tr("Reach"),
             tr("How far it melts, sharpens from or pulls; what is finer counts as fine"),
             {{Unit::Length, 0.0005, 0.05},
              [](const LayerSource& s) { return filterOf(s)->guides.size.size; },
              [](const LayerSource& s, float v) {
                return changed<Filter>(s, [&](Filter& next) { next.guides.size.size = v; });
              }});
  QWidget *amounts = nullptr, *brushes = nullptr, *swaps = nullptr;
  QVBoxLayout* inside = section(column, amounts);
  addMember<Filter>(inside, "amount");
  inside = section(column, swaps);
  buildSwap(inside);
  inside = section(column, brushes);
  addMember<Filter>(inside, "bristle");
  addDirection(inside);
  addAgain(inside,
           [](const LayerSource& s) { return changed<Filter>(s, [](Filter& next) { ++next.seed; }); });
  whenShown([this, amounts, brushes, swaps](const LayerSource& s) {
    const Filter* filter = filterOf(s);
    if (!filter) return;
    using Way = Filter::Way;
    ways_->button(static_cast<int>(filter->way))->setChecked(true);
    amounts->setVisible(filter->way != Way::Melt && filter->way != Way::Painterly);
    brushes->setVisible(filter->way == Way::Painterly);
    swaps->setVisible(filter->way == Way::SwapDetail);
  });
}

void FilterPage::buildWays(QVBoxLayout* column) {
  auto* grid = new QGridLayout;
  grid->setSpacing(2);
  ways_ = new QButtonGroup(this);
  const std::pair<QString, QString> ways[] = {
      {tr("Melt"), tr("What lies below flows into each other along the skin")},
      {tr("Sharpen"), tr("What differs from around it differs more")},
      {tr("Painterly"), tr("Pulled along a direction: edges look brushed")},
      {tr("Even out"), tr("Broad differences go, fine ones stay: the shading of photos and grafts")},
      {tr("Swap detail"), tr("What is fine in the layer it hangs on, over what is broad below that")}};
  for (int i = 0; i < 5; ++i) {
    auto* b = new QPushButton(ways[i].first);
    b->setObjectName("filter " + ways[i].first);
    b->setToolTip(ways[i].second);
    b->setCheckable(true);
    b->setStyleSheet("padding: 2px 5px; font-size: 11px;");
    ways_->addButton(b, i);
    if (i < 3)
      grid->addWidget(b, 0, 2 * i, 1, 2);
    else
      grid->addWidget(b, 1, 3 * (i - 3), 1, 3);
  }
  column->addLayout(grid);
  connect(ways_, &QButtonGroup::idClicked, this, [this](int way) {
    change(
        [way](const LayerSource& s) {
          return changed<Filter>(s, [&](Filter& next) {
            next.way = static_cast<Filter::Way>(way);
            // as strong as one expects of each
            if (next.way == Filter::Way::EvenOut || next.way == Filter::Way::SwapDetail) next.amount = 1;
          });
        },
        tr("What the filter does"));
  });
}

// Which of the two gives what is fine.
void FilterPage::buildSwap(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  auto* takes = new QButtonGroup(this);
  const std::pair<QString, QString> sides[] = {
      {tr("Its fine part"), tr("Keeps what is fine of the layer it hangs on; broad tones come from below")},
      {tr("Its broad part"),
       tr("Keeps what is broad of the layer it hangs on; what is fine comes from below")}};
  for (int i = 0; i < 2; ++i) {
    auto* b = new QPushButton(sides[i].first);
    b->setObjectName(i == 0 ? "filter keeps fine" : "filter keeps broad");
    b->setToolTip(sides[i].second);
    b->setCheckable(true);
    b->setStyleSheet("padding: 2px 5px; font-size: 11px;");
    takes->addButton(b, i);
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  column->addWidget(quietLabel(
      tr("It works on the layer it hangs on (%1).").arg(QKeySequence(Qt::CTRL | Qt::Key_B).toString())));
  connect(takes, &QButtonGroup::idClicked, this, [this](int side) {
    change(
        [side](const LayerSource& s) {
          return changed<Filter>(s, [&](Filter& next) { next.broad = side == 1; });
        },
        tr("What the filter keeps"));
  });
  whenShown([takes](const LayerSource& s) {
    if (const Filter* filter = filterOf(s)) takes->button(filter->broad ? 1 : 0)->setChecked(true);
  });
}

}  // namespace juvenor::app

#include "moc_filter_page.cpp"
