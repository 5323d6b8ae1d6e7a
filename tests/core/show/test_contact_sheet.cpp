// Contact sheets: every picture in its place, with its name under it.
#include "core/document/edits/edit_cameras.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_variants.h"
#include "core/document/edits/edits.h"
#include "core/show/contact_sheet.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document shownThrice() {
  Document d =
      withFillLayer(test::documentOf(test::sphere(20, 10)), "Red", Stratum::Flesh, {0.9f, 0.1f, 0.1f});
  Look look;
  look.view = View::Flat;
  look.camera.distance = 60;
  for (const char* name : {"Front", "A name that is far too long for the room under its picture", "Side"}) {
    auto kept = withCamera(d, name, look);
    if (!kept) return d;
    d = std::move(*kept);
    look.camera = turned(look.camera, Vec2(80, 0));
  }
  return d;
}

ContactWish smallWish() {
  ContactWish out;
  out.tile = {120, 90};
  out.columns = 2;
  out.samples = 2;
  out.font = labelFont();
  return out;
}

}  // namespace

class TestContactSheet : public QObject {
  Q_OBJECT
 private slots:
  void picturesLieSideBySide() {
    const auto tiles = tilesOfCameras(shownThrice());
    QVERIFY(tiles);
    QCOMPARE(tiles->size(), size_t{3});
    const auto sheet = contactSheet(*tiles, smallWish());
    QVERIFY2(sheet, sheet ? "" : sheet.error().message().c_str());
    const int gap = 6, name = 16;
    QCOMPARE(sheet->size, (ViewSize{gap + 2 * (120 + gap), gap + 2 * (90 + name + gap)}));
    const auto at = [&](int x, int y) {
      return sheet
          ->pixels[static_cast<size_t>(y) * static_cast<size_t>(sheet->size.width) + static_cast<size_t>(x)];
    };
    // the ball is red in the middle of each, and nothing stands where there is no fourth
    for (const auto& [x, y] : {std::pair(0, 0), std::pair(1, 0), std::pair(0, 1)}) {
      const uint32_t middle = at(gap + x * (120 + gap) + 60, gap + y * (90 + name + gap) + 45);
      QVERIFY2((middle >> 16 & 0xff) > 200 && (middle & 0xff) < 60, qPrintable(QString::number(middle, 16)));
    }
    const uint32_t ground = at(0, 0);
    for (int y = gap + 90 + name + gap; y < sheet->size.height; ++y)
      for (int x = gap + 120 + gap; x < sheet->size.width; ++x) QCOMPARE(at(x, y), ground);
    // names are written, and none beyond its picture
    for (int column = 0; column < 2; ++column) {
      int ink = 0;
      for (int y = gap + 90; y < gap + 90 + name; ++y) {
        for (int x = 0; x < 120; ++x) ink += at(gap + column * (120 + gap) + x, y) != ground;
        for (int x = 0; x < gap; ++x) QCOMPARE(at(gap + column * (120 + gap) + 120 + x, y), ground);
      }
      QVERIFY(ink > 20);
    }
  }

  void checkpointsAndVariantsAreShownAsTheyWere() {
    Document d = shownThrice();
    auto kept = withCheckpoint(d, "Red once", 0);
    QVERIFY(kept);
    d = withFillLayer(*kept, "Blue", Stratum::Flesh, {0.1f, 0.1f, 0.9f});
    auto blue = withVariant(d, "Blue");
    QVERIFY(blue);
    LayerChange hide;
    hide.visible = false;
    auto hidden = withLayerChanged(*blue, blue->activeLayer, hide);
    QVERIFY(hidden);
    auto red = withVariant(*hidden, "Red again");
    QVERIFY(red);
    Look look;
    look.view = View::Flat;
    look.camera.distance = 60;
    const auto then = tilesOfCheckpoints(*red, look), versions = tilesOfVariants(*red, look);
    QVERIFY(then && versions);
    QCOMPARE(then->size(), size_t{1});
    QCOMPARE(versions->size(), size_t{2});
    std::vector<ContactTile> all{(*then)[0], (*versions)[0], (*versions)[1]};
    ContactWish wish = smallWish();
    wish.columns = 3;
    const auto sheet = contactSheet(all, wish);
    QVERIFY(sheet);
    for (int i = 0; i < 3; ++i) {
      const uint32_t middle =
          sheet->pixels[static_cast<size_t>(6 + 45) * static_cast<size_t>(sheet->size.width) +
                        static_cast<size_t>(6 + i * 126 + 60)];
      QCOMPARE((middle >> 16 & 0xff) > (middle & 0xff), i != 1);
    }
  }

  void whatCannotBeIsTold() {
    const Document bare = test::documentOf(test::sphere(10, 10));
    QVERIFY(!tilesOfCameras(bare));
    QVERIFY(!tilesOfCheckpoints(bare, {}));
    QVERIFY(!tilesOfVariants(bare, {}));
    const auto tiles = tilesOfCameras(shownThrice());
    ContactWish wish = smallWish();
    wish.font = "/nowhere/font.otf";
    QVERIFY(!contactSheet(*tiles, wish));
    wish = smallWish();
    wish.tile = {9000, 9000};
    const auto large = contactSheet(*tiles, wish);
    QVERIFY(!large && large.error().message().find("smaller") != std::string::npos);
    QVERIFY(!contactSheet({}, smallWish()));
    const auto stopped = contactSheet(*tiles, smallWish(), [](float) { return false; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
  }
};

JUVENOR_TEST(TestContactSheet)

}  // namespace juvenor

#include "test_contact_sheet.moc"
