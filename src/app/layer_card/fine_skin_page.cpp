#include "app/layer_card/fine_skin_page.h"

#include <QPushButton>
#include <QVBoxLayout>

namespace juvenor::app {

template <>
struct KindSettings<FineSkin> {
  static const FineSkin* of(const LayerSource& s) { return fineSkinOf(s); }
  static SourcePointer source(FineSkin settings) { return fineSkinSource(std::move(settings)); }
};

namespace {
constexpr float kPointsApart = 0.25f;  // by the way from one line to the next
}

FineSkinPage::FineSkinPage(Session& session) : PatternPage(session) {
  setObjectName("fine skin page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  auto* regions = new QPushButton(tr("Regions from landmarks"));
  regions->setObjectName("usual regions");
  regions->setToolTip(
      tr("Cheek, brow, lip and neck differ: wide pores, folds across, folds along, coarse lozenges"));
  column->addWidget(regions);
  connect(regions, &QPushButton::clicked, this, [this] {
    const uint32_t id = layer_.id();
    session_.edit(tr("Regions from landmarks"),
                  [id](const Document& d, const Progress&) { return withUsualRegions(d, id); });
  });
  auto* points = new QPushButton(tr("Points for its finest lines …"));
  points->setObjectName("points for it");
  points->setToolTip(tr("Adds points where the layer's mask shows, or on the active part, four to a line"));
  column->addWidget(points);
  connect(points, &QPushButton::clicked, this, [this] {
    const LayerPointer layer = layerOf(session_.document(), layer_.id());
    const FineSkin* skin = layer ? fineSkinOf(*layer->source) : nullptr;
    if (skin) emit session_.pointsWanted(kPointsApart * skin->guides.size.size);
  });
  buildGuides(column, tr("Size"), tr("From one line to the next"), {Unit::Length, 0.0005, 0.03});
  buildLook(column);
  addAgain(column,
           [](const LayerSource& s) { return changed<FineSkin>(s, [](FineSkin& next) { ++next.seed; }); });
}

void FineSkinPage::buildLook(QVBoxLayout* column) {
  addMembers<FineSkin>(column, "stretch", "cover");
  addColor(
      column, tr("Colour in lines and pores"), [](const LayerSource& s) { return fineSkinOf(s)->color; },
      [](const LayerSource& s, const EncodedColor& color) {
        return changed<FineSkin>(s, [&](FineSkin& next) { next.color = color; });
      },
      tr("Colour of lines"));
}

}  // namespace juvenor::app

#include "moc_fine_skin_page.cpp"
