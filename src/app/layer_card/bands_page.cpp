#include "app/layer_card/bands_page.h"

#include <QVBoxLayout>

#include "app/controls/labels.h"

namespace juvenor::app {

template <>
struct KindSettings<Bands> {
  static const Bands* of(const LayerSource& s) { return bandsOf(s); }
  static SourcePointer source(Bands settings) { return bandSource(std::move(settings)); }
};

BandsPage::BandsPage(Session& session) : PatternPage(session) {
  setObjectName("bands page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildGuides(column, tr("Apart"), tr("From one band to the next"), {Unit::Length, 0.004, 0.3});
  add(column, tr("Width"), tr("How much of the way they take: 100 leaves no gap"), &Bands::width);
  add(column, tr("Softness"), tr("0 a hard edge, 100 fading from the middle on"), &Bands::softness);
  add(column, tr("Wavy"), tr("0 straight, 100 winding"), &Bands::wavy);
  add(column, tr("Broken"), tr("0 whole, 100 gone"), &Bands::broken);
  add(column, tr("Uneven"), tr("0 all as wide, 100 now wide, now hardly there"), &Bands::uneven);
  add(column, tr("Grain"), tr("The size of what bends and breaks them, by how far they lie apart"),
      &Bands::grain, {Unit::Plain, 0.2, 10});
  column->addWidget(quietLabel(tr("Colours from edge to middle")));
  addRamp(
      column, [](const LayerSource& s) -> const RampStops& { return bandsOf(s)->ramp; },
      [](const LayerSource& s, const RampStops& stops) {
        return changed<Bands>(s, [&](Bands& next) { next.ramp = stops; });
      });
  add(column, tr("Gloss"), tr("How wet bands are"), &Bands::gloss);
  add(column, tr("Gloss covers"), tr("How much of that they bring; 0 leaves the skin's own"),
      &Bands::glossCover);
  add(column, tr("Height"), tr("How far the middle of a band is raised"), &Bands::height,
      {Unit::Length, 0, 0.01});
  addAgain(column, [](const LayerSource& s) { return changed<Bands>(s, [](Bands& next) { ++next.seed; }); });
}

}  // namespace juvenor::app

#include "moc_bands_page.cpp"
