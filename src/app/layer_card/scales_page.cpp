#include "app/layer_card/scales_page.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/kind_icon.h"
#include "app/controls/labels.h"

namespace juvenor::app {

template <>
struct KindSettings<Scales> {
  static const Scales* of(const LayerSource& s) { return scalesOf(s); }
  static SourcePointer source(Scales settings) { return scaleSource(std::move(settings)); }
};

namespace {

// A shape as it lies on the small patch of skin.
SourcePointer exampleOf(ScaleShape shape) {
  Scales scales;
  scales.guides.direction.form = 1;
  scales.guides.direction.flow = -Vec3::UnitY();
  scales.guides.size.size = 0.5f;
  scales.grooveCover = 1;
  scales.grooveColor = {0.08f, 0.08f, 0.07f};
  scales.ramp = {{0, {0.4f, 0.4f, 0.38f}, 1, {}}, {1, {0.72f, 0.72f, 0.69f}, 1, {}}};
  scales.depth = 0.05f;
  return scaleSource(usualScales(shape, std::move(scales)));
}

}  // namespace

ScalesPage::ScalesPage(Session& session) : PatternPage(session) {
  setObjectName("scales page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildShapes(column);
  buildGuides(column, tr("Size"), tr("How wide they are"), {Unit::Length, 0.002, 0.12});
  buildForm(column);
  buildColors(column);
  addAgain(column,
           [](const LayerSource& s) { return changed<Scales>(s, [](Scales& next) { ++next.seed; }); });
}

void ScalesPage::buildShapes(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  shapes_ = new QButtonGroup(this);
  const std::pair<QString, QString> shapes[] = {
      {tr("Pebble"), tr("Pebbles: round, side by side as they fall")},
      {tr("Plate"), tr("Plates: flat hexagons in rows")},
      {tr("Leaf"), tr("Leaves: each lies over the next along the direction")},
      {tr("Shield"), tr("Shields: large and long, with a keel")},
      {tr("Granules"), tr("Granules: large ones with small ones between")}};
  for (int i = 0; i < 5; ++i) {
    auto* b = new QToolButton;
    b->setObjectName("shape " + shapes[i].first);
    b->setToolTip(shapes[i].second);
    b->setCheckable(true);
    b->setAutoRaise(true);
    b->setStyleSheet("QToolButton { padding: 1px; }");
    shapes_->addButton(b, i);
    row->addWidget(b);
  }
  column->addLayout(row);
  connect(shapes_, &QButtonGroup::idClicked, this, [this](int shape) {
    change(
        [shape](const LayerSource& s) {
          return changed<Scales>(
              s, [&](Scales& next) { next = usualScales(static_cast<ScaleShape>(shape), next); });
        },
        tr("Shape of scales"));
  });
  whenShown([this](const LayerSource& s) {
    for (int i = 0; i < 5; ++i)
      if (shapes_->button(i)->icon().isNull())
        showSourceIcon(shapes_->button(i), exampleOf(static_cast<ScaleShape>(i)), {34, 26});
    if (const Scales* scales = scalesOf(s))
      shapes_->button(static_cast<int>(scales->shape))->setChecked(true);
  });
}

void ScalesPage::buildForm(QVBoxLayout* column) {
  addMembers<Scales>(column, "stretch", "wear");
}

void ScalesPage::buildColors(QVBoxLayout* column) {
  auto* over = new QComboBox;
  over->setObjectName("ramp over");
  over->setToolTip(tr("What the colours below run over"));
  over->addItems(
      {tr("border to middle"), tr("root to tip"), tr("middle line to sides"), tr("from one to another")});
  column->addWidget(quietLabel(tr("Colours run")));
  column->addWidget(over);
  connect(over, &QComboBox::activated, this, [this](int choice) {
    change(
        [choice](const LayerSource& s) {
          return changed<Scales>(s, [&](Scales& next) { next.over = static_cast<ScaleCoordinate>(choice); });
        },
        tr("Colours of scales"));
  });
  whenShown([over](const LayerSource& s) {
    if (const Scales* scales = scalesOf(s)) over->setCurrentIndex(static_cast<int>(scales->over));
  });
  addRamp(
      column, [](const LayerSource& s) -> const RampStops& { return scalesOf(s)->ramp; },
      [](const LayerSource& s, const RampStops& stops) {
        return changed<Scales>(s, [&](Scales& next) { next.ramp = stops; });
      });
  addColor(
      column, tr("Groove: click to take the mixer's colour"),
      [](const LayerSource& s) { return scalesOf(s) ? scalesOf(s)->grooveColor : EncodedColor{}; },
      [](const LayerSource& s, const EncodedColor& color) {
        return changed<Scales>(s, [&](Scales& next) { next.grooveColor = color; });
      },
      tr("Colour of grooves"));
  addMembers<Scales>(column, "groove-cover", "groove-gloss");
}

}  // namespace juvenor::app

#include "moc_scales_page.cpp"
