#include "app/layer_card/spots_page.h"

#include <QButtonGroup>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/kind_icon.h"
#include "app/controls/labels.h"
#include "app/session/words.h"

namespace juvenor::app {

template <>
struct KindSettings<Spots> {
  static const Spots* of(const LayerSource& s) { return spotsOf(s); }
  static SourcePointer source(Spots settings) { return spotSource(std::move(settings)); }
};

namespace {

// A look as it lies on the small patch of skin.
SourcePointer exampleOf(const SpotLook& look) {
  Spots out;
  out.guides.size.size = 0.24f;
  out.look = look.key;
  return spotSource(std::move(out));
}

}  // namespace

SpotsPage::SpotsPage(Session& session) : PatternPage(session) {
  setObjectName("spots page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildLooks(column);
  buildGuides(column, tr("Apart"), tr("From one to the next"), {Unit::Length, 0.006, 0.2});
  addMembers<Spots>(column, "stretch", "softness");
  column->addWidget(quietLabel(tr("Colours from edge to middle")));
  addRamp(
      column, [](const LayerSource& s) -> const RampStops& { return spotsOf(s)->ramp; },
      [](const LayerSource& s, const RampStops& stops) {
        return changed<Spots>(s, [&](Spots& next) { next.ramp = stops; });
      });
  addMembers<Spots>(column, "gloss", "height");
  addAgain(column, [](const LayerSource& s) { return changed<Spots>(s, [](Spots& next) { ++next.seed; }); });
}

void SpotsPage::buildLooks(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  looks_ = new QButtonGroup(this);
  for (const SpotLook& look : spotLooks()) {
    auto* b = new QToolButton;
    b->setObjectName("look " + QString::fromStdString(std::string(look.key)));
    b->setToolTip(told(look.label) + ": " + told(look.does));
    b->setCheckable(true);
    b->setAutoRaise(true);
    b->setStyleSheet("QToolButton { padding: 1px; }");
    looks_->addButton(b, static_cast<int>(&look - spotLooks().data()));
    row->addWidget(b);
  }
  column->addLayout(row);
  connect(looks_, &QButtonGroup::idClicked, this, [this](int look) {
    change(
        [look](const LayerSource& s) {
          return changed<Spots>(s,
                                [&](Spots& next) { next.look = spotLooks()[static_cast<size_t>(look)].key; });
        },
        tr("Look of spots"));
  });
  whenShown([this](const LayerSource& s) {
    for (size_t i = 0; i < spotLooks().size(); ++i)
      if (auto* b = looks_->button(static_cast<int>(i)); b->icon().isNull())
        showSourceIcon(b, exampleOf(spotLooks()[i]), {34, 26});
    const SpotLook* look = spotLook(spotsOf(s)->look);
    looks_->button(static_cast<int>(look - spotLooks().data()))->setChecked(true);
  });
}

}  // namespace juvenor::app

#include "moc_spots_page.cpp"
