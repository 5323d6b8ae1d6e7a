#include "app/layer_card/pattern_page.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/kind_icon.h"
#include "app/controls/labels.h"
#include "app/layer_card/ramp_bar.h"

namespace juvenor::app {
namespace {

template <class Change>
SourcePointer changedScales(const LayerSource& source, Change change) {
  const Scales* now = scalesOf(source);
  if (!now) return nullptr;
  Scales next = *now;
  change(next);
  return scaleSource(std::move(next));
}

// A shape as it lies on the small patch of skin.
QIcon iconOfShape(ScaleShape shape) {
  Scales scales;
  scales.guides.direction.form = 1;
  scales.guides.direction.flow = -Vec3::UnitY();
  scales.guides.size.size = 0.42f;
  scales.depth = 0.05f;
  return sourceIcon(scaleSource(usualScales(shape, std::move(scales))), {34, 26});
}

}  // namespace

PatternPage::PatternPage(Session& session) : SettingsPage(session, "pattern") {
  setObjectName("scales page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildShapes(column);
  buildGuides(column);
  buildForm(column);
  buildColors(column);
  auto* again = new QPushButton(tr("Throw anew"));
  again->setObjectName("throw anew");
  again->setToolTip(tr("Others of the same kind, in other places"));
  column->addWidget(again);
  connect(again, &QPushButton::clicked, this, [this] {
    change([](const LayerSource& s) { return changedScales(s, [](Scales& next) { ++next.seed; }); },
           tr("Throw scales anew"));
  });
}

void PatternPage::buildShapes(QVBoxLayout* column) {
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
    b->setIcon(iconOfShape(static_cast<ScaleShape>(i)));
    b->setIconSize({34, 26});
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
          return changedScales(
              s, [&](Scales& next) { next = usualScales(static_cast<ScaleShape>(shape), next); });
        },
        tr("Shape of scales"));
  });
  whenShown([this](const LayerSource& s) {
    if (const Scales* scales = scalesOf(s))
      shapes_->button(static_cast<int>(scales->shape))->setChecked(true);
  });
}

template <class Member>
void PatternPage::add(QVBoxLayout* column, const QString& name, const QString& tip, Member member,
                      const Range& range) {
  addSetting(column, name, tip,
             {range,
              [member](const LayerSource& s) {
                const Scales* scales = scalesOf(s);
                return scales ? member(*scales) : 0.f;
              },
              [member](const LayerSource& s, float v) {
                return changedScales(s, [&](Scales& next) { member(next) = v; });
              }});
}

void PatternPage::buildGuides(QVBoxLayout* column) {
  add(column, tr("Size"), tr("How wide they are"), [](auto& s) -> auto& { return s.guides.size.size; },
      {Unit::Length, 0.002, 0.12});
  add(column, tr("Smallest"), tr("Of that, where areas and maps make them small"),
      [](auto& s) -> auto& { return s.guides.size.smallest; }, {Unit::Percent, 0.1, 1});
  add(column, tr("Stretch"), tr("How long they are by how wide"), [](auto& s) -> auto& { return s.stretch; },
      {Unit::Plain, 0.4, 4});
  add(
      column, tr("Rows"), tr("0 as they fall, 100 in staggered rows"),
      [](auto& s) -> auto& { return s.rows; });
  add(
      column, tr("Along forms"), tr("How much they lie along limbs, ridges and creases"),
      [](auto& s) -> auto& { return s.guides.direction.curvature; });
  add(column, tr("Turn"), tr("How they lie against the direction"),
      [](auto& s) -> auto& { return s.guides.direction.turn; }, {Unit::Degrees, -90, 90});
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  auto* combs = quietLabel({});
  combs->setObjectName("combs");
  row->addWidget(combs, 1);
  auto* comb = new QPushButton(tr("Comb"));
  comb->setObjectName("take comb");
  comb->setToolTip(tr("Takes the comb in hand: stroke the way they are to lie (C)"));
  auto* clear = new QPushButton(tr("Clear"));
  clear->setObjectName("clear combs");
  clear->setToolTip(tr("Forgets every stroke of the comb"));
  row->addWidget(comb);
  row->addWidget(clear);
  column->addLayout(row);
  connect(comb, &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Comb); });
  connect(clear, &QPushButton::clicked, this, [this] {
    change(
        [](const LayerSource& s) {
          return changedScales(s, [](Scales& next) { next.guides.direction.combs.clear(); });
        },
        tr("Clear the combs"));
  });
  whenShown([combs, clear](const LayerSource& s) {
    const Scales* scales = scalesOf(s);
    const auto count = scales ? static_cast<int>(scales->guides.direction.combs.size()) : 0;
    combs->setText(count == 0 ? tr("Not combed") : tr("%n stroke(s)", nullptr, count));
    clear->setEnabled(count > 0);
  });
}

void PatternPage::buildForm(QVBoxLayout* column) {
  const Range height{Unit::Length, 0, 0.01};
  add(
      column, tr("Depth"), tr("From the groove to the top of a scale"),
      [](auto& s) -> auto& { return s.depth; }, height);
  add(
      column, tr("Groove"), tr("How wide the groove between them is"),
      [](auto& s) -> auto& { return s.groove; });
  add(
      column, tr("Dome"), tr("0 flat, 100 round"), [](auto& s) -> auto& { return s.dome; });
  add(
      column, tr("Keel"), tr("A ridge along the middle"), [](auto& s) -> auto& { return s.keel; });
  add(column, tr("Tilt"), tr("Above 0 the tip is raised, below the root"),
      [](auto& s) -> auto& { return s.tilt; }, {Unit::Percent, -1, 1});
  add(
      column, tr("Overlap"), tr("Of leaves: how far each lies over the next"),
      [](auto& s) -> auto& { return s.overlap; });
  add(
      column, tr("Point"), tr("Of leaves: 0 round, 100 pointed"), [](auto& s) -> auto& { return s.point; });
  add(
      column, tr("Uneven"), tr("How much their heights differ"), [](auto& s) -> auto& { return s.uneven; });
  add(
      column, tr("Wear"), tr("How many are rubbed pale and dull, and how much"),
      [](auto& s) -> auto& { return s.wear; });
}

void PatternPage::buildColors(QVBoxLayout* column) {
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
          return changedScales(s, [&](Scales& next) { next.over = static_cast<ScaleCoordinate>(choice); });
        },
        tr("Colours of scales"));
  });
  ramp_ = new RampBar;
  ramp_->setObjectName("scale ramp");
  column->addWidget(ramp_);
  const auto withRamp = [this](const LayerSource& s) {
    return changedScales(s, [this](Scales& next) { next.ramp = ramp_->ramp(); });
  };
  connect(ramp_, &RampBar::sliding, this, [this, withRamp] {
    const SourcePointer now = source();
    const Document& d = session_.document();
    if (SourcePointer next = now ? withRamp(*now) : nullptr)
      if (const auto shown = withSource(d, d.activeLayer, std::move(next))) session_.preview(*shown);
  });
  connect(ramp_, &RampBar::changed, this, [this, withRamp] { change(withRamp, tr("Colours of scales")); });
  connect(&session_.tools(), &Tools::changed, this, [this] { ramp_->setColor(session_.tools().color()); });
  whenShown([this, over](const LayerSource& s) {
    const Scales* scales = scalesOf(s);
    if (!scales) return;
    over->setCurrentIndex(static_cast<int>(scales->over));
    ramp_->show(scales->ramp);
    ramp_->setColor(session_.tools().color());
  });
  addColor(
      column, tr("Groove: click to take the mixer's colour"),
      [](const LayerSource& s) { return scalesOf(s) ? scalesOf(s)->grooveColor : EncodedColor{}; },
      [](const LayerSource& s, const EncodedColor& color) {
        return changedScales(s, [&](Scales& next) { next.grooveColor = color; });
      },
      tr("Colour of grooves"));
  add(
      column, tr("Groove covers"), tr("How much the groove's colour covers"),
      [](auto& s) -> auto& { return s.grooveCover; });
  add(
      column, tr("Edge light"), tr("A light rim inside the groove"),
      [](auto& s) -> auto& { return s.edgeLight; });
  add(column, tr("Lightness varies"), tr("How far scales are lighter and darker than their colours"),
      [](auto& s) -> auto& { return s.variety.lightness; }, {Unit::Percent, 0, 0.3});
  add(column, tr("Hue varies"), tr("How far their hues lie apart, either way"),
      [](auto& s) -> auto& { return s.variety.hue; }, {Unit::Degrees, 0, 60});
  add(
      column, tr("Gloss"), tr("How wet their tops are"), [](auto& s) -> auto& { return s.gloss; });
  add(
      column, tr("Gloss of grooves"), tr("How wet it is between them"),
      [](auto& s) -> auto& { return s.grooveGloss; });
}

}  // namespace juvenor::app
