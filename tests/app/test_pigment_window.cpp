// The Pigment stage in the window: its first layers, stamps placed and adjusted, stencils, cut lines, the
// hand aids, markings changed live.
#include <QLabel>

#include "app/hands/axis_lock.h"
#include "app/layer_card/marking_page.h"
#include "app/stage/pigment_page.h"
#include "core/brush/made_stamps.h"
#include "core/color/lab.h"
#include "core/layers/sources/markings.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

struct Skin : DrivenWindow {
  Skin() : DrivenWindow(test::sphere(160, 100)) {
    session().apply(withPaintedLayer(document(), "Paint", Stratum::Pigment), "Add layer");
    settle();
  }
  size_t step() { return session().history().current(); }
  // How much of a place around is covered.
  double laidNear(const Vec3& place, float within) {
    const auto& field = *active()->source->painted();
    double sum = 0;
    for (size_t s = 0; s < field.size(); ++s)
      if ((document().surface->positions[s] - place).norm() < within)
        sum += static_cast<double>(from16(field.at(s)[3]) * document().surface->areas[s]);
    return sum;
  }
  void drag(const std::vector<QPoint>& way, Qt::KeyboardModifiers modifiers = {}) {
    QTest::mousePress(&easel(), Qt::LeftButton, modifiers, way.front());
    for (const QPoint& p : way) {
      QMouseEvent move(QEvent::MouseMove, p, easel().mapToGlobal(p), Qt::NoButton, Qt::LeftButton, modifiers);
      QCoreApplication::sendEvent(&easel(), &move);
    }
    QTest::mouseRelease(&easel(), Qt::LeftButton, modifiers, way.back());
    settle();
  }
  EncodedColor seenAt(const Vec3& place) {
    const auto probe = session().engine().probe(
        document(), Vec2(static_cast<float>(at(place).x()), static_cast<float>(at(place).y())));
    return probe ? probe->composite : EncodedColor{};
  }
  PigmentPage& stage() {
    window.side().show(SideColumn::Page::Stage);
    window.side().stage().goTo(2);
    QCoreApplication::processEvents();
    return window.side().stage().pigment();
  }
  void first(const char* name) {
    auto* button = stage().findChild<QToolButton*>(QString("first %1").arg(name));
    QVERIFY(button);
    QTest::mouseClick(button, Qt::LeftButton);
    awaitBackground();
  }
};

}  // namespace

class TestPigmentWindow : public QObject {
  Q_OBJECT
 private slots:
  void aStampIsPlacedAdjustedAndLaid() {
    Skin w;
    w.key(Qt::Key_T);
    QVERIFY(w.session().tools().tool() == Tool::Stamp);
    auto* bar = w.named<QFrame>("stamp bar");
    QVERIFY(bar->isVisible());
    w.easel().stampPlacing().take(madeStamp("nail"));
    const size_t before = w.step();
    const Vec3 place(0, 0, 100);
    w.drag({w.at(place), w.at(place) + QPoint(20, 0), w.at(place) + QPoint(50, 0)});
    QVERIFY(w.easel().stampPlacing().placing());
    // seen, but no step of the work yet
    QTRY_VERIFY_WITH_TIMEOUT(deltaE2000(toLab(w.seenAt(place)), toLab(w.document().bare)) > 5, 3000);
    QVERIFY(w.easel().stampPlacing().placing());
    QCOMPARE(w.step(), before);
    // moved by its middle
    w.drag({w.at(place), w.at({30, 0, 95})});
    QTest::keyClick(&w.easel(), Qt::Key_Return);
    w.settle();
    QCOMPARE(w.step(), before + 1);
    QVERIFY(!w.easel().stampPlacing().placing());
    QVERIFY(w.laidNear({30, 0, 95}, 12) > 20);
    QVERIFY(w.laidNear({-30, 0, 95}, 12) < 0.01);
    // and undone
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    QVERIFY(w.laidNear({30, 0, 95}, 12) < 0.01);
  }
  void escapeTakesAStampAwayAndAnotherToolLaysIt() {
    Skin w;
    w.key(Qt::Key_T);
    w.easel().stampPlacing().take(madeStamp("nail"));
    const size_t before = w.step();
    w.drag({w.at({0, 0, 100}), w.at({0, 0, 100}) + QPoint(40, 0)});
    QTest::keyClick(&w.easel(), Qt::Key_Escape);
    w.settle();
    QVERIFY(!w.easel().stampPlacing().placing());
    QCOMPARE(w.step(), before);
    QCOMPARE(w.wrongPixels(), 0);
    w.drag({w.at({0, 0, 100}), w.at({0, 0, 100}) + QPoint(40, 0)});
    w.key(Qt::Key_A);
    w.settle();
    QCOMPARE(w.step(), before + 1);
    QVERIFY(w.laidNear({0, 0, 100}, 15) > 20);
  }
  void paintGoesThroughTheStencil() {
    Skin w;
    w.key(Qt::Key_D);
    QVERIFY(w.named<QFrame>("stencil bar")->isVisible());
    // a drop covers a part of its square alone
    w.easel().stencil().take(madeStamp("nail"));
    w.key(Qt::Key_A);
    w.setBrush([](Brush& b) { b.radius = 60, b.flow = 1, b.hardness = 1; });
    w.drag({w.at({0, 0, 100}), w.at({4, 0, 100})});
    const double through = w.laidNear({0, 0, 100}, 55);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    w.key(Qt::Key_D, Qt::ShiftModifier);
    QVERIFY(!w.easel().stencil().shown());
    w.drag({w.at({0, 0, 100}), w.at({4, 0, 100})});
    const double without = w.laidNear({0, 0, 100}, 55);
    QVERIFY2(through > 50 && through < 0.85 * without,
             qPrintable(QString("%1 %2").arg(through).arg(without)));
  }
  void aCutLineRunsStraightOrAllAround() {
    Skin w;
    w.key(Qt::Key_X);
    w.setBrush([](Brush& b) { b.radius = 5, b.flow = 1, b.hardness = 0.8f; });
    const size_t before = w.step();
    w.drag({w.at({-50, 20, 84}), w.at({0, 20, 98}), w.at({50, 20, 84})});
    QCOMPARE(w.step(), before + 1);
    QVERIFY(w.laidNear({0, 20, 98}, 6) > 20);
    QVERIFY(w.laidNear({0, 20, -98}, 10) < 0.01);
    auto* around = w.named<QPushButton>("cut around");
    around->click();
    w.drag({w.at({-50, -30, 80}), w.at({50, -30, 80})});
    // seen from the front a plane through the eye comes out lower at the back
    QVERIFY(w.laidNear({0, -45, -89}, 16) > 20);
    QVERIFY(w.laidNear({95, -30, 0}, 12) > 20);
  }
  void aHeldKeyKeepsTheHandStraight() {
    AxisLock lock;
    lock.begin({100, 100});
    QCOMPARE(lock.held({103, 101}, true), Vec2(100, 100));
    QVERIFY((lock.held({140, 108}, true) - Vec2(140, 100)).norm() < 1e-3f);
    // it stays with the first direction until the key is let go
    QVERIFY((lock.held({150, 190}, true) - Vec2(150, 100)).norm() < 1e-3f);
    QCOMPARE(lock.held({150, 190}, false), Vec2(150, 190));
    QVERIFY((lock.held({190, 228}, true) - Vec2(189, 229)).norm() < 1.01f);
    Skin w;
    w.setBrush([](Brush& b) { b.radius = 4, b.flow = 1; });
    const QPoint from = w.at({-50, 0, 86});
    w.drag({from, from + QPoint(20, 1), from + QPoint(60, 40), QPoint(w.at({50, 0, 86}).x(), from.y() + 60)},
           Qt::ShiftModifier);
    QVERIFY(w.laidNear({0, 0, 100}, 5) > 5);
    QVERIFY(w.laidNear({0, -35, 93}, 10) < 0.01);
  }
  void theLastStrokeIsRepeatedWhereItLay() {
    Skin w;
    w.setBrush([](Brush& b) { b.radius = 8, b.flow = 0.1f, b.opacity = 0.3f; });
    w.drag({w.at({-20, 10, 97}), w.at({20, 10, 97})});
    const double once = w.laidNear({0, 10, 99}, 6);
    QVERIFY(once > 0);
    w.easel().look(Side::Right);
    w.settle();
    const size_t before = w.step();
    w.key(Qt::Key_R);
    w.settle();
    QCOMPARE(w.step(), before + 1);
    QVERIFY(w.laidNear({0, 10, 99}, 6) > 1.4 * once);
  }
  void theStageBeginsLayersInAClick() {
    Skin w;
    w.session().apply(withLandmark(w.document(), "nose", {0, 0, 100}), "Place nose");
    w.session().apply(withLandmark(w.document(), "cheekbone", {40, 0, 90}), "Place cheek");
    const size_t before = w.document().layers.size();
    for (const char* name :
         {"Dark pass", "Middle pass", "Light pass", "Freckles", "Mottling", "Veins", "Blush"})
      w.first(name);
    QCOMPARE(w.document().layers.size(), before + 7);
    const auto named = [&](const std::string& name) {
      return *std::ranges::find_if(w.document().layers, [&](const auto& l) { return l->name == name; });
    };
    QVERIFY(named("Freckles")->blend == BlendMode::Melanin);
    QCOMPARE(speckleOf(*named("Freckles")->source)->gather.size(), size_t{2});
    QVERIFY(named("Mottling")->blend == BlendMode::Blood && mottleOf(*named("Mottling")->source));
    QVERIFY(named("Blush")->mask && named("Blush")->mask->holdsAny());
    QCOMPARE(w.wrongPixels(), 0);
  }
  void theCheckTellsWhatShowsThrough() {
    Skin w;
    w.session().apply(withFillLayer(w.document(), "Half", Stratum::Pigment, {0.5f, 0.2f, 0.1f}), "Fill");
    LayerChange half;
    half.opacity = 0.4f;
    w.session().apply(withLayerChanged(w.document(), w.document().activeLayer, half), "Opacity");
    auto* number = w.stage().findChild<QLabel*>("shows through");
    QTRY_VERIFY_WITH_TIMEOUT(number->text().contains("60 %"), 5000);
    auto* see = w.stage().findChild<QPushButton*>("see what shows");
    see->click();
    w.settle();
    QVERIFY(w.easel().viewing().shows);
    QCOMPARE(w.easel().viewing().shows->at(0)[0], uint16_t{39321});
    see->click();
    QVERIFY(!w.easel().viewing().shows);
  }
  // The layer's page: a slider moved shows on the skin before it is let go, and is a step afterwards.
  void speckleIsChangedLive() {
    Skin w;
    w.first("Freckles");
    w.window.side().show(SideColumn::Page::Layer);
    QCoreApplication::processEvents();
    auto* page = w.named<QWidget>("speckle page");
    QVERIFY(page && page->isVisible());
    auto* cover = page->findChild<ValueSlider*>("marking Cover");
    const size_t before = w.step();
    const auto marked = [&] {
      const auto own = *speckleOf(*w.active()->source);
      return own.cover;
    };
    const float was = marked();
    QTest::mousePress(cover, Qt::LeftButton, {}, QPoint(cover->width() - 4, cover->height() - 6));
    QCoreApplication::processEvents();
    QCOMPARE(w.step(), before);
    QTest::mouseRelease(cover, Qt::LeftButton, {}, QPoint(cover->width() - 4, cover->height() - 6));
    w.settle();
    QCOMPARE(w.step(), before + 1);
    QVERIFY(marked() > was);
    QCOMPARE(w.wrongPixels(), 0);
    auto* again = page->findChild<QPushButton*>("throw anew");
    again->click();
    w.awaitBackground();
    QVERIFY(speckleOf(*w.active()->source)->seed == 2);
    QTRY_COMPARE_WITH_TIMEOUT(w.wrongPixels(), 0, 10000);
  }
  void tonesOfMottleAreAddedAndTaken() {
    Skin w;
    w.first("Mottling");
    w.window.side().show(SideColumn::Page::Layer);
    QCoreApplication::processEvents();
    auto* page = w.named<QWidget>("mottle page");
    const size_t tones = mottleOf(*w.active()->source)->tones.size();
    w.chooseColor({0.1f, 0.7f, 0.3f});
    page->findChild<QPushButton*>("more tones")->click();
    w.settle();
    QCOMPARE(mottleOf(*w.active()->source)->tones.size(), tones + 1);
    QVERIFY(mottleOf(*w.active()->source)->tones.back().color == (EncodedColor{0.1f, 0.7f, 0.3f}));
    page->findChild<QToolButton*>("tone 0")->click();
    page->findChild<QPushButton*>("take tone")->click();
    QVERIFY(mottleOf(*w.active()->source)->tones.front().color == (EncodedColor{0.1f, 0.7f, 0.3f}));
  }
  void rootsOfVeinsArePlacedOnTheSkin() {
    Skin w;
    w.first("Veins");
    QVERIFY(w.session().tools().tool() == Tool::Zones);
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, w.at({20, -20, 96}));
    w.settle();
    QCOMPARE(veinsOf(*w.active()->source)->roots.size(), size_t{1});
    QTRY_VERIFY_WITH_TIMEOUT(w.wrongPixels() == 0, 15000);
  }
  // One flush over two tones: both redden, neither turns into the other.
  void bloodReddensTwoBaseTones() {
    const auto flushed = [](const EncodedColor& tone) {
      Skin w;
      w.session().apply(withFillLayer(w.document(), "Base", Stratum::Flesh, tone), "Fill");
      w.session().apply(withFillLayer(w.document(), "Flush", Stratum::Pigment, {0.7f, 0.2f, 0.2f}), "Fill");
      LayerChange blood;
      blood.blend = BlendMode::Blood;
      w.session().apply(withLayerChanged(w.document(), w.document().activeLayer, blood), "Blood");
      w.settleFully();
      return std::pair(toLab(tone), toLab(w.seenAt({0, 0, 100})));
    };
    for (const EncodedColor& tone : {EncodedColor{0.9f, 0.76f, 0.67f}, EncodedColor{0.36f, 0.22f, 0.16f}}) {
      const auto [before, after] = flushed(tone);
      QVERIFY2(after.a > before.a + 2, qPrintable(QString("%1 %2").arg(before.a).arg(after.a)));
      QVERIFY(after.l < before.l + 0.5 && after.l > before.l - 25);
    }
  }
};

JUVENOR_TEST(TestPigmentWindow)
}  // namespace juvenor::app
#include "test_pigment_window.moc"
