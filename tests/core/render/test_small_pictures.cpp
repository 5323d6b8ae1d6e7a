// Small pictures: what a layer brings, how a sculpt would stand, what a kind of layer does.
#include "core/document/edits/edits.h"
#include "core/layers/prepared_layer.h"
#include "core/render/brush_picture.h"
#include "core/render/kind_picture.h"
#include "core/render/layer_thumbnails.h"
#include "core/render/placement_picture.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kEdge = 32;
constexpr uint32_t kGrey = 0xff848484, kGround = 0xff2c2c2c;

// All thumbnails that are finished by the time nothing is left, and how many pieces that took.
std::map<uint32_t, std::vector<uint32_t>> finished(LayerThumbnails& thumbnails, int* pieces = nullptr) {
  std::map<uint32_t, std::vector<uint32_t>> out;
  for (bool more = true; more;) {
    for (auto& made : thumbnails.advance(more)) out[made.layer] = std::move(made.pixels);
    if (pieces) ++*pieces;
  }
  return out;
}

PreparedStack stackOf(const Document& d) {
  return *prepared(d.layers, *d.maps);
}

uint32_t middleOf(const std::vector<uint32_t>& pixels) {
  return pixels[kEdge / 2 * kEdge + kEdge / 2];
}

// A cone's flat outline: wide below, one point on top; nothing of it is the same upside down or from the
// side.
Sculpt wedge() {
  Sculpt s;
  s.vertices = {{-4, 0, 0}, {4, 0, 0}, {0, 9, 0}, {0, 0, -1}};
  s.corners = {0, 1, 2, 1, 0, 3, 0, 2, 3, 2, 1, 3};
  s.polygonStart = {0, 3, 6, 9, 12};
  (void)finishSculpt(s, "wedge");
  return s;
}

size_t drawnIn(const std::vector<uint32_t>& pixels, uint32_t background, size_t fromRow, size_t toRow) {
  size_t drawn = 0;
  for (size_t i = fromRow * kEdge; i < toRow * kEdge; ++i) drawn += pixels[i] != background;
  return drawn;
}

}  // namespace

class TestSmallPictures : public QObject {
  Q_OBJECT
 private slots:
  void aThumbnailShowsWhatTheLayerBringsByItself() {
    Document d = test::documentOf(test::sphere(24, 10));
    d = withFillLayer(d, "under", Stratum::Flesh, {1, 0, 0});
    const uint32_t under = d.activeLayer;
    d = withFillLayer(d, "over", Stratum::Pigment, {0, 0, 1});
    const uint32_t over = d.activeLayer;
    d = withPaintedLayer(d, "empty", Stratum::Surface);
    const uint32_t empty = d.activeLayer;
    LayerThumbnails thumbnails(**d.maps->rays(), kEdge);
    thumbnails.setStack(stackOf(d), d.bare);
    const auto made = finished(thumbnails);
    QCOMPARE(made.size(), size_t{3});
    // the one below is not hidden by the one above; what brings nothing is grey skin
    QCOMPARE(middleOf(made.at(under)), 0xffff0000u);
    QCOMPARE(middleOf(made.at(over)), 0xff0000ffu);
    QCOMPARE(middleOf(made.at(empty)), kGrey);
    // beside the skin there is the dark ground, at the corners for certain
    for (const auto& [layer, pixels] : made) QCOMPARE(pixels.size(), size_t{kEdge * kEdge});
  }
  void onlyLayersWhoseSourceChangedAreMadeAnew() {
    Document d = test::documentOf(test::sphere(24, 10));
    d = withFillLayer(d, "a", Stratum::Flesh, {1, 0, 0});
    const uint32_t a = d.activeLayer;
    d = withFillLayer(d, "b", Stratum::Pigment, {0, 1, 0});
    const uint32_t b = d.activeLayer;
    LayerThumbnails thumbnails(**d.maps->rays(), kEdge);
    thumbnails.setStack(stackOf(d), d.bare);
    QCOMPARE(finished(thumbnails).size(), size_t{2});
    // a name and an opacity are no part of the picture
    LayerChange rename;
    rename.name = "a renamed";
    rename.opacity = 0.5f;
    d = *withLayerChanged(d, a, rename);
    thumbnails.setStack(stackOf(d), d.bare);
    QVERIFY(finished(thumbnails).empty());
    LayerChange color;
    color.fill = EncodedColor{1, 1, 0};
    d = *withLayerChanged(d, b, color);
    thumbnails.setStack(stackOf(d), d.bare);
    const auto made = finished(thumbnails);
    QCOMPARE(made.size(), size_t{1});
    QCOMPARE(middleOf(made.at(b)), 0xffffff00u);
  }
  // Large sculpts are read a few chunks at a time, and a stack that comes in between starts over.
  void thumbnailsAreMadeInPieces() {
    Document d = test::documentOf(test::sphere(360, 10));
    d = withFillLayer(d, "a", Stratum::Flesh, {1, 0, 0});
    LayerThumbnails thumbnails(**d.maps->rays(), kEdge);
    thumbnails.setStack(stackOf(d), d.bare);
    bool more = false;
    QVERIFY(thumbnails.advance(more).empty());
    QVERIFY(more);
    LayerChange color;
    color.fill = EncodedColor{0, 1, 0};
    d = *withLayerChanged(d, d.activeLayer, color);
    thumbnails.setStack(stackOf(d), d.bare);
    int pieces = 0;
    const auto made = finished(thumbnails, &pieces);
    QVERIFY2(pieces >= 2, qPrintable(QString::number(pieces)));
    QCOMPARE(made.size(), size_t{1});
    for (const uint32_t pixel : made.begin()->second)
      QVERIFY2(pixel == 0xff00ff00u || pixel == kGround, qPrintable(QString::number(pixel, 16)));
  }
  void placementsAreSeenAsTheyWouldStand() {
    const Rays rays(test::surfaceOf(wedge()), Rays::Quality::Full);
    const uint32_t background = 0xff585858;
    const auto picture = [&](Axis up, Axis front) {
      return placementPicture(rays, {up, front, 1}, {kEdge, kEdge}, background);
    };
    const auto upright = picture(Axis::PlusY, Axis::PlusZ), over = picture(Axis::MinusY, Axis::PlusZ);
    constexpr size_t kHalf = kEdge / 2;
    const size_t wide = drawnIn(upright, background, kHalf, kEdge),
                 narrow = drawnIn(upright, background, 0, kHalf);
    QVERIFY2(wide > 2 * narrow && narrow > 4, qPrintable(QString("%1 %2").arg(wide).arg(narrow)));
    // on its head the wide side is above
    QVERIFY(drawnIn(over, background, 0, kHalf) > 2 * drawnIn(over, background, kHalf, kEdge));
    // from the side it is thin
    QVERIFY(drawnIn(picture(Axis::PlusY, Axis::PlusX), background, 0, kEdge) < (wide + narrow) / 2);
    // clay is neutral whatever is shown
    for (const uint32_t pixel : upright) {
      QCOMPARE(pixel >> 16 & 255, pixel & 255);
      QCOMPARE(pixel >> 8 & 255, pixel & 255);
    }
  }
  void everyKindOfLayerHasAPictureOfItsOwn() {
    std::set<std::vector<uint32_t>> seen;
    for (const SourceKind* kind : sourceKinds()) {
      const auto made = kindPicture(*kind, {kEdge, kEdge});
      QVERIFY2(made, made ? "" : made.error().what.c_str());
      QCOMPARE(made->size(), size_t{kEdge * kEdge});
      QVERIFY(std::set(made->begin(), made->end()).size() > 8);
      seen.insert(*made);
    }
    QCOMPARE(seen.size(), sourceKinds().size());
  }
  // As large as the roll shows them, fine and faint ones too: marks one sees, and skin between them.
  void everyBrushOfTheRollIsSeen_data() {
    QTest::addColumn<int>("which");
    for (size_t i = 0; i < usualRoll().size(); ++i)
      QTest::newRow(usualRoll()[i].name.c_str()) << static_cast<int>(i);
  }
  void everyBrushOfTheRollIsSeen() {
    QFETCH(int, which);
    const RollBrush& brush = usualRoll()[static_cast<size_t>(which)];
    constexpr ViewSize kSize{96, 44};
    const auto bare = bareSkin(kSize);
    const auto drawn = brushPicture(brush, kSize);
    QVERIFY2(drawn, drawn ? "" : drawn.error().what.c_str());
    size_t marked = 0;
    int darkest = 0;
    for (size_t i = 0; i < bare.size(); ++i) {
      const int darker = static_cast<int>(bare[i] >> 8 & 255) - static_cast<int>((*drawn)[i] >> 8 & 255);
      QVERIFY(darker > -3);
      marked += darker > 8;
      darkest = std::max(darkest, darker);
    }
    const double share = static_cast<double>(marked) / static_cast<double>(bare.size());
    QVERIFY2(share > 0.01 && share < 0.97, qPrintable(QString::number(share)));
    QVERIFY2(darkest > 25, qPrintable(QString::number(darkest)));
    QVERIFY(*brushPicture(brush, kSize) == *drawn);
  }
  void aBrushWithoutAnInkHasNoPicture() {
    RollBrush brush = usualRoll().front();
    brush.ink = "no such ink";
    QVERIFY(!brushPicture(brush, {84, 38}));
  }

 private:
  // The patch pictures of brushes are drawn on.
  static std::vector<uint32_t> bareSkin(const ViewSize& size) {
    RollBrush nothing = usualRoll().front();
    nothing.brush.opacity = 0;
    return *brushPicture(nothing, size);
  }
};

JUVENOR_TEST(TestSmallPictures)
}  // namespace juvenor
#include "test_small_pictures.moc"
