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
  addMembers<Bands>(column, "width", "grain");
  column->addWidget(quietLabel(tr("Colours from edge to middle")));
  addRamp(
      column, [](const LayerSource& s) -> const RampStops& { return bandsOf(s)->ramp; },
      [](const LayerSource& s, const RampStops& stops) {
        return changed<Bands>(s, [&](Bands& next) { next.ramp = stops; });
      });
  addMembers<Bands>(column, "gloss", "height");
  addAgain(column, [](const LayerSource& s) { return changed<Bands>(s, [](Bands& next) { ++next.seed; }); });
}

}  // namespace juvenor::app

#include "moc_bands_page.cpp"
