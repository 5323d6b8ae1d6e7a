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
  add(column, tr("Long"), tr("Lozenges: how much longer they are across the pull of the skin"),
      &FineSkin::stretch, {Unit::Plain, 1, 3});
  add(column, tr("Even"), tr("0 as they fall, 100 all alike"), &FineSkin::even);
  add(column, tr("Lines"), tr("How deep and wide the lines between lozenges are"), &FineSkin::lines);
  add(column, tr("Pores"), tr("How many meetings of lines have a pore, and how wide it is"),
      &FineSkin::pores);
  add(column, tr("Folds"), tr("How deep and whole longer folds across the pull are"), &FineSkin::creases);
  add(column, tr("Folds apart"), tr("From one fold to the next, by the size"), &FineSkin::apart,
      {Unit::Plain, 2, 12});
  add(column, tr("Depth"), tr("Of a line; pores and folds are deeper by themselves"), &FineSkin::depth,
      {Unit::Length, 0, 0.002});
  add(column, tr("Gloss"), tr("How wet the skin is on average"), &FineSkin::gloss);
  add(column, tr("Sheen"), tr("How much glossier the tops are than lines and pores"), &FineSkin::sheen);
  add(column, tr("Gloss covers"), tr("How much of that it brings; 0 leaves the skin's own"),
      &FineSkin::glossCover);
  add(column, tr("Colour covers"), tr("How much colour gathers in lines and pores"), &FineSkin::cover);
  addColor(
      column, tr("Colour in lines and pores"), [](const LayerSource& s) { return fineSkinOf(s)->color; },
      [](const LayerSource& s, const EncodedColor& color) {
        return changed<FineSkin>(s, [&](FineSkin& next) { next.color = color; });
      },
      tr("Colour of lines"));
}

}  // namespace juvenor::app

#include "moc_fine_skin_page.cpp"
