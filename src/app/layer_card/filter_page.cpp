#include "app/layer_card/filter_page.h"

#include <QButtonGroup>
#include <QPushButton>
#include <QVBoxLayout>

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
  addSetting(column, tr("Reach"), tr("How far colours melt, sharpen from, or are pulled"),
             {{Unit::Length, 0.0005, 0.05},
              [](const LayerSource& s) { return filterOf(s)->guides.size.size; },
              [](const LayerSource& s, float v) {
                return changed<Filter>(s, [&](Filter& next) { next.guides.size.size = v; });
              }});
  QWidget *sharpens = nullptr, *brushes = nullptr;
  QVBoxLayout* inside = section(column, sharpens);
  add(inside, tr("Amount"), tr("How much what differs from around it is driven apart"), &Filter::amount,
      {Unit::Percent, 0, 2});
  inside = section(column, brushes);
  add(inside, tr("Bristle"), tr("The width of what is pulled alike, by the reach"), &Filter::bristle,
      {Unit::Percent, 0.02, 1});
  addDirection(inside);
  addAgain(inside,
           [](const LayerSource& s) { return changed<Filter>(s, [](Filter& next) { ++next.seed; }); });
  whenShown([this, sharpens, brushes](const LayerSource& s) {
    const Filter* filter = filterOf(s);
    if (!filter) return;
    ways_->button(static_cast<int>(filter->way))->setChecked(true);
    sharpens->setVisible(filter->way == Filter::Way::Sharpen);
    brushes->setVisible(filter->way == Filter::Way::Painterly);
  });
}

void FilterPage::buildWays(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  ways_ = new QButtonGroup(this);
  const std::pair<QString, QString> ways[] = {
      {tr("Melt"), tr("Colours flow into each other along the skin")},
      {tr("Sharpen"), tr("What differs from around it differs more")},
      {tr("Painterly"), tr("Colours are pulled along a direction: edges look brushed")}};
  for (int i = 0; i < 3; ++i) {
    auto* b = new QPushButton(ways[i].first);
    b->setObjectName("filter " + ways[i].first);
    b->setToolTip(ways[i].second);
    b->setCheckable(true);
    b->setStyleSheet("padding: 2px 5px; font-size: 11px;");
    ways_->addButton(b, i);
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  connect(ways_, &QButtonGroup::idClicked, this, [this](int way) {
    change(
        [way](const LayerSource& s) {
          return changed<Filter>(s, [&](Filter& next) { next.way = static_cast<Filter::Way>(way); });
        },
        tr("What the filter does"));
  });
}

}  // namespace juvenor::app

#include "moc_filter_page.cpp"
