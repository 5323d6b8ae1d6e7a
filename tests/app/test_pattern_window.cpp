// The Pattern stage in the window: scales from the card, their shapes and numbers, the comb.
#include <QAbstractButton>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>

#include "app/controls/value_slider.h"
#include "app/layer_card/adjust_page.h"
#include "app/layer_card/scales_page.h"
#include "app/layer_card/term_editor.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/build/search.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

struct Scaled : DrivenWindow {
  Scaled() : DrivenWindow(test::sphere(120, 100)) {
    Scales scales;
    scales.guides = usualGuides(document().surface->bounds.diagonal());
    scales.guides.size.size = 16;
    session().apply(withSourceLayer(document(), "Scales", Stratum::Surface, scaleSource(scales)),
                    "Add layer");
    window.side().show(SideColumn::Page::Layer);
    ready();
  }
  // Until the layer shows what it is set to.
  void ready() {
    for (int i = 0; i < 500 && !active()->source->isReady(*document().maps); ++i) QTest::qWait(10);
    settle();
  }
  const Scales& scales() { return *scalesOf(*active()->source); }
  size_t step() { return session().history().current(); }
  void drag(const std::vector<QPoint>& way) {
    mouseStroke(way);
    settle();
  }
};

}  // namespace

class TestPatternWindow : public QObject {
  Q_OBJECT
 private slots:
  void aShapeIsChosenByItsPicture() {
    Scaled w;
    auto* page = w.named<ScalesPage>("scales page");
    QVERIFY(page && page->isVisible());
    for (const char* name : {"Pebble", "Plate", "Leaf", "Shield", "Granules"}) {
      auto* button = page->findChild<QToolButton*>(QString("shape %1").arg(name));
      QVERIFY2(button, name);
      QTRY_VERIFY(!button->icon().isNull());
    }
    const size_t before = w.step();
    page->findChild<QToolButton*>("shape Leaf")->click();
    w.ready();
    QCOMPARE(w.scales().shape, ScaleShape::Leaf);
    QCOMPARE(w.step(), before + 1);
    QVERIFY(w.scales().tilt > 0);
    const QImage leaves = w.picture();
    w.session().goTo(before);
    w.ready();
    QCOMPARE(w.scales().shape, ScaleShape::Pebble);
    QVERIFY(w.picture() != leaves);
    QVERIFY(page->findChild<QToolButton*>("shape Pebble")->isChecked());
  }
  void numbersAreShownWhileTheyMove() {
    Scaled w;
    auto* depth = w.named<ValueSlider>("pattern Groove");
    QVERIFY(depth);
    const QImage before = w.picture();
    const size_t step = w.step();
    depth->setFocus();
    for (int i = 0; i < 8; ++i) QTest::keyClick(depth, Qt::Key_Right);
    w.ready();
    QVERIFY(w.scales().groove > 0.25f);
    QVERIFY(w.step() > step);
    QVERIFY(w.picture() != before);
    // the groove takes the mixer's colour
    w.chooseColor({0.9f, 0.1f, 0.1f});
    w.named<QWidget>("scales page")->findChild<QToolButton*>("pattern colour")->click();
    w.settle();
    QCOMPARE(w.scales().grooveColor, (EncodedColor{0.9f, 0.1f, 0.1f}));
  }
  void theCombSaysWhichWayTheyLie() {
    Scaled w;
    w.key(Qt::Key_C);
    QCOMPARE(w.session().tools().tool(), Tool::Comb);
    QTRY_VERIFY(w.easel().comb().lineCount() > 100);
    w.setBrush([](Brush& b) { b.radius = 12; });
    // lines under the stroke turn while it is drawn, before the field is worked out anew
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, w.at({-20, 0, 98}));
    for (const QPoint& p : {w.at({0, 0, 100}), w.at({20, 0, 98})}) {
      QMouseEvent move(QEvent::MouseMove, p, w.easel().mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(&w.easel(), &move);
    }
    QVERIFY(w.easel().comb().lineNear({0, 0, 100}).x() > 0.5f);
    QVERIFY(std::abs(w.easel().comb().lineNear({0, 80, 60}).x()) < 0.5f);
    QTest::keyClick(&w.easel(), Qt::Key_Escape);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, w.at({20, 0, 98}));
    w.settle();
    QVERIFY(w.scales().guides.direction.combs.empty());
    const size_t before = w.step();
    w.drag({w.at({-40, 0, 91}), w.at({-20, 5, 97}), w.at({0, 0, 100}), w.at({30, 0, 95})});
    QCOMPARE(w.step(), before + 1);
    QCOMPARE(w.scales().guides.direction.combs.size(), size_t{1});
    const Comb comb = w.scales().guides.direction.combs[0];
    QVERIFY(comb.places.size() >= 3);
    QCOMPARE(comb.width, 24.f);
    QVERIFY((comb.places.back() - comb.places.front()).normalized().x() > 0.9f);
    w.ready();
    const auto directions =
        *directionsOf(*w.document().maps, w.scales().guides.direction, Symmetry::Direction);
    for (size_t s = 0; s < directions->size(); ++s)
      if ((w.document().surface->positions[s] - Vec3(0, 0, 100)).norm() < 6)
        QVERIFY((*directions)[s].x() > 0.8f);
    w.session().goTo(before);
    QVERIFY(w.scales().guides.direction.combs.empty());
  }
  void aClickPinsAndClearingTakesAway() {
    Scaled w;
    w.key(Qt::Key_C);
    w.setBrush([](Brush& b) {
      b.radius = 10;
      b.mirror[0] = true;
    });
    w.drag({w.at({50, 30, 81})});
    QTRY_COMPARE(w.scales().guides.direction.combs.size(), size_t{2});
    const auto& pins = w.scales().guides.direction.combs;
    QVERIFY((pins[0].places[0].cwiseProduct(Vec3(-1, 1, 1)) - pins[1].places[0]).norm() < 1e-3f);
    // two on other sides
    w.drag({w.at({0, -60, 80}), w.at({20, -60, 77}), w.at({45, -60, 66})});
    QCOMPARE(w.scales().guides.direction.combs.size(), size_t{4});
    w.named<QPushButton>("comb clears")->click();
    w.drag({w.at({40, 30, 86}), w.at({50, 30, 81}), w.at({60, 30, 74})});
    QCOMPARE(w.scales().guides.direction.combs.size(), size_t{3});
    w.named<QWidget>("scales page")->findChild<QPushButton*>("clear combs")->click();
    w.settle();
    QVERIFY(w.scales().guides.direction.combs.empty());
    QVERIFY(!w.named<QWidget>("scales page")->findChild<QPushButton*>("clear combs")->isEnabled());
    // a layer that follows nothing says so
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Surface), "Add layer");
    w.settle();
    QVERIFY(!w.named<QPushButton>("comb clears")->isEnabled());
    const size_t step = w.step();
    w.drag({w.at({0, 0, 100}), w.at({30, 0, 95})});
    QCOMPARE(w.step(), step);
  }
  void bandsAndSpotsAreSetOnTheirPages() {
    Scaled w;
    w.session().apply(withSourceLayer(w.document(), "Bands", Stratum::Pigment,
                                      sourceKind("bands")->fresh(*w.document().surface, {0.2f, 0.1f, 0.05f})),
                      "Add layer");
    w.ready();
    auto* bands = w.named<QWidget>("bands page");
    QVERIFY(bands && bands->isVisible() && !w.named<QWidget>("scales page")->isVisible());
    const QImage before = w.picture();
    auto* width = bands->findChild<ValueSlider*>("pattern Width");
    width->setFocus();
    for (int i = 0; i < 6; ++i) QTest::keyClick(width, Qt::Key_Right);
    w.ready();
    QVERIFY(bandsOf(*w.active()->source)->width > 0.46f);
    QVERIFY(w.picture() != before);
    bands->findChild<QPushButton*>("throw anew")->click();
    w.ready();
    QCOMPARE(bandsOf(*w.active()->source)->seed, 2u);
    w.session().apply(withSourceLayer(w.document(), "Spots", Stratum::Pigment,
                                      sourceKind("spots")->fresh(*w.document().surface, {0.2f, 0.1f, 0.05f})),
                      "Add layer");
    w.ready();
    auto* spots = w.named<QWidget>("spots page");
    QVERIFY(spots && spots->isVisible() && !bands->isVisible());
    for (const SpotLook& look : spotLooks()) {
      auto* button = spots->findChild<QToolButton*>(
          "look " + QString::fromUtf8(look.key.data(), static_cast<qsizetype>(look.key.size())));
      QVERIFY(button);
      QTRY_VERIFY(!button->icon().isNull());
    }
    const QImage round = w.picture();
    spots->findChild<QToolButton*>("look maze")->click();
    w.ready();
    QCOMPARE(spotsOf(*w.active()->source)->look, std::string("maze"));
    QVERIFY(w.picture() != round);
  }
  // A number that is being typed is meant for the layer one sees, though a key makes another the active one.
  void aTypedNumberReachesTheLayerItWasMeantFor() {
    DrivenWindow w(test::sphere(48, 100));
    w.window.side().show(SideColumn::Page::Layer);
    w.session().apply(withSourceLayer(w.document(), "Adjust", Stratum::Pigment,
                                      sourceKind("adjust")->fresh(*w.document().surface, {0.5f, 0.5f, 0.5f})),
                      "Add layer");
    w.settle();
    const uint32_t adjust = w.document().activeLayer;
    auto* lightness = w.named<QWidget>("adjust page")->findChild<ValueSlider*>("adjust Lightness");
    QTest::mouseDClick(lightness, Qt::LeftButton, {}, QPoint(lightness->width() - 8, 8));
    auto* line = lightness->findChild<QLineEdit*>();
    QVERIFY(line);
    line->setText("-50 %");
    w.key(Qt::Key_L, Qt::ControlModifier);
    w.settle();
    QVERIFY(w.document().activeLayer != adjust && w.active()->source->painted());
    QVERIFY(std::abs(adjustOf(*layerOf(w.document(), adjust)->source)->lightness + 0.5f) < 1e-4f);
    // and of a layer that is gone nothing is changed at all
    w.session().chooseLayer(adjust);
    w.settle();
    QTest::mouseDClick(lightness, Qt::LeftButton, {}, QPoint(lightness->width() - 8, 8));
    lightness->findChild<QLineEdit*>()->setText("20 %");
    w.session().apply(withoutLayer(w.document(), adjust), "Delete layer");
    w.settle();
    const size_t steps = w.session().history().current();
    w.easel().setFocus();
    w.settle();
    QCOMPARE(w.session().history().current(), steps);
  }
  // A second button is none of the drag under way: it took the point away that was being dragged.
  void aSecondButtonLeavesTheDraggedPointAlone() {
    DrivenWindow w(test::sphere(48, 100));
    w.window.side().show(SideColumn::Page::Layer);
    w.session().apply(withSourceLayer(w.document(), "Adjust", Stratum::Pigment,
                                      sourceKind("adjust")->fresh(*w.document().surface, {0.5f, 0.5f, 0.5f})),
                      "Add layer");
    w.settle();
    auto* curve = w.named<QWidget>("adjust page")->findChild<CurveBox*>("adjust curve");
    QTest::mouseDClick(curve, Qt::LeftButton, {}, QPoint(curve->width() / 2, 30));
    w.settle();
    const QPoint last(curve->width() - 6, 6);
    QTest::mousePress(curve, Qt::LeftButton, {}, last);
    QTest::mouseClick(curve, Qt::RightButton, {}, last);
    QTest::mouseMove(curve, last + QPoint(-8, 12));
    QTest::mouseRelease(curve, Qt::LeftButton, {}, last + QPoint(-8, 12));
    w.settle();
    QCOMPARE(curve->points().size(), size_t{3});
    QCOMPARE(adjustOf(*w.active()->source)->curve.size(), size_t{3});
  }
  void anAdjustLayerChangesMatchesAndIsLaidDown() {
    DrivenWindow w(test::sphere(96, 100));
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add layer");
    w.session().apply(withFilled(w.document(), w.document().activeLayer, EncodedColor{0.6f, 0.4f, 0.3f}, 1),
                      "Fill");
    w.window.side().show(SideColumn::Page::Layer);
    w.named<QPushButton>("add layer")->click();
    w.named<QWidget>("kind card")->findChild<QAbstractButton*>("kind adjust")->click();
    w.settle();
    auto* page = w.named<QWidget>("adjust page");
    QVERIFY(page && page->isVisible());
    const QImage before = w.picture();
    auto* lightness = page->findChild<ValueSlider*>("adjust Lightness");
    lightness->setFocus();
    for (int i = 0; i < 10; ++i) QTest::keyClick(lightness, Qt::Key_Left);
    w.settle();
    const float set = adjustOf(*w.active()->source)->lightness;
    QVERIFY(set < -0.05f);
    QVERIFY(w.picture() != before);
    // another one begins as the last
    w.session().apply(withSourceLayer(w.document(), "Again", Stratum::Pigment,
                                      sourceKind("adjust")->fresh(*w.document().surface, {0.5f, 0.5f, 0.5f})),
                      "Add layer");
    w.settle();
    QCOMPARE(adjustOf(*w.active()->source)->lightness, 0.f);
    page->findChild<QPushButton*>("adjust as last")->click();
    w.settle();
    QCOMPARE(adjustOf(*w.active()->source)->lightness, set);
    w.session().goTo(w.session().history().current() - 2);
    w.settle();
    // a point of the curve dragged
    auto* curve = page->findChild<CurveBox*>("adjust curve");
    QTest::mouseDClick(curve, Qt::LeftButton, {}, QPoint(curve->width() / 2, 30));
    w.settle();
    QCOMPARE(adjustOf(*w.active()->source)->curve.size(), size_t{3});
    QTest::mouseClick(curve, Qt::RightButton, {}, QPoint(curve->width() / 2, 30));
    w.settle();
    QCOMPARE(adjustOf(*w.active()->source)->curve.size(), size_t{2});
    // matched to the mixer's tone what lies below reads as it
    w.session().goTo(w.session().history().current() - 2);
    for (int i = 0; i < 10; ++i) QTest::keyClick(lightness, Qt::Key_Right);
    w.chooseColor({0.3f, 0.5f, 0.35f});
    page->findChild<QPushButton*>("match tone")->click();
    w.settle();
    const Adjust matched = *adjustOf(*w.active()->source);
    QVERIFY(std::abs(matched.from.r - 0.6f) < 0.01f);
    const auto probe = w.session().engine().probe(
        w.document(),
        Vec2(static_cast<float>(w.at({0, 0, 100}).x()), static_cast<float>(w.at({0, 0, 100}).y())));
    QVERIFY(probe && std::abs(probe->composite.g - 0.5f) < 0.02f);
    const size_t layers = w.document().layers.size();
    page->findChild<QPushButton*>("adjust lay down")->click();
    w.settle();
    QCOMPARE(w.document().layers.size(), layers - 1);
    const auto laid = w.session().engine().probe(
        w.document(),
        Vec2(static_cast<float>(w.at({0, 0, 100}).x()), static_cast<float>(w.at({0, 0, 100}).y())));
    QVERIFY(laid && std::abs(laid->composite.g - probe->composite.g) < 0.01f);
  }
  void theUsualPlacesAreLeftOutInAClick() {
    Scaled w;
    auto* button = w.named<QWidget>("scales page")->findChild<QPushButton*>("leave out");
    // nothing is known of this one, and it says so
    const size_t before = w.step();
    button->click();
    w.settle();
    QCOMPARE(w.step(), before);
    for (const auto& [key, place] : {std::pair("crown", Vec3(0, 90, 43)), std::pair("chin", Vec3(0, -70, 71)),
                                     std::pair("lip", Vec3(0, -40, 91))})
      w.session().apply(withLandmark(w.document(), key, place), "Landmark");
    button->click();
    w.settle();
    QVERIFY(w.active()->mask);
    w.ready();
    QVERIFY(w.active()->mask->at(*nearestSample(*w.document().surface, {0, -40, 91}, 9))[0] < 3000);
    QCOMPARE(w.active()->mask->at(*nearestSample(*w.document().surface, {0, 60, 80}, 9))[0], uint16_t{65535});
  }
  void itsOwnMapsAndThoseOfItsMaskAreBothSet() {
    Scaled w;
    MaskTerm high;
    high.map = {&kElevationMap, 0, Vec3::UnitY()};
    w.session().apply(withMaskTerms(w.document(), w.document().activeLayer, {high}), "Mask");
    w.settle();
    auto* title = w.named<TermEditor>("terms");
    QVERIFY(title && title->terms().empty());
    auto* mask = w.named<QPushButton>("maps of mask");
    QVERIFY(mask->isVisible());
    mask->click();
    QCOMPARE(title->terms().size(), size_t{1});
    w.named<QPushButton>("maps of kind")->click();
    QVERIFY(title->terms().empty());
    // a layer without maps of its own has one kind alone
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Surface), "Add layer");
    w.settle();
    QVERIFY(!mask->isVisible());
  }
};

JUVENOR_TEST(TestPatternWindow)
}  // namespace juvenor::app
#include "test_pattern_window.moc"
