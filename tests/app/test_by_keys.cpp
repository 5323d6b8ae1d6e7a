// What the mouse reaches, keys reach: layers, colours, the eye; and painted controls tell what they are and
// what they are set to, and take another value from who cannot see them.
#include <QAccessible>
#include <QContextMenuEvent>

#include "app/controls/value_slider.h"
#include "app/layer_card/adjust_page.h"
#include "app/layer_card/ramp_bar.h"
#include "app/mixer/mixer.h"
#include "app/strata/strata.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/sources/ramp.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

struct ByKeys : test::DrivenWindow {
  ByKeys() : DrivenWindow(test::sphere(30, 10)) {
    Document d = document();
    d.layers.clear();
    d = withFillLayer(d, "Tone", Stratum::Flesh, {0.6f, 0.5f, 0.4f});
    d = withPaintedLayer(d, "Paint", Stratum::Pigment);
    session().apply(withPaintedLayer(d, "Marks", Stratum::Pigment), "layers");
    settle();
  }
  std::vector<std::string> names() {
    std::vector<std::string> out;
    for (const LayerPointer& l : document().layers) out.push_back(l->name);
    return out;
  }
  static QAccessibleInterface* spoken(QWidget* w) { return QAccessible::queryAccessibleInterface(w); }
  static QString value(QWidget* w) { return spoken(w)->text(QAccessible::Value); }
};
using Names = std::vector<std::string>;

}  // namespace

class TestByKeys : public QObject {
  Q_OBJECT
 private slots:
  void layersAreHiddenThinnedAndMoved() {
    ByKeys w;
    auto* rows = w.window.findChild<StrataRows*>();
    rows->setFocus();
    QCOMPARE(w.active()->name, std::string("Marks"));
    QCOMPARE(ByKeys::value(rows), QString("Marks, Pigment, 100 %"));
    QTest::keyClick(rows, Qt::Key_Space);
    QVERIFY(!w.active()->visible);
    QTest::keyClick(rows, Qt::Key_Left);
    QTest::keyClick(rows, Qt::Key_Left);
    QVERIFY(std::abs(w.active()->opacity - 0.9f) < 1e-5f);
    QCOMPARE(ByKeys::value(rows), QString("Marks, Pigment, 90 %, hidden"));
    QTest::keyClick(rows, Qt::Key_Space);
    QVERIFY(w.active()->visible);
    // down past its neighbour, into the flesh, under the tone, and no further
    const auto down = [&] { QTest::keyClick(rows, Qt::Key_Down, Qt::ShiftModifier); };
    down();
    QCOMPARE(w.names(), (Names{"Tone", "Marks", "Paint"}));
    down();
    QCOMPARE(w.names(), (Names{"Tone", "Marks", "Paint"}));
    QVERIFY(w.active()->stratum == Stratum::Flesh);
    down();
    const size_t steps = w.session().history().steps().size();
    down();
    QCOMPARE(w.names(), (Names{"Marks", "Tone", "Paint"}));
    QCOMPARE(w.session().history().steps().size(), steps);
    for (int i = 0; i < 4; ++i) QTest::keyClick(rows, Qt::Key_Up, Qt::ShiftModifier);
    QCOMPARE(w.names(), (Names{"Tone", "Paint", "Marks"}));
    QVERIFY(w.active()->stratum == Stratum::Surface);
    // the key of menus opens that of the layer that is painted on
    uint32_t menuOf = 0;
    rows->disconnect(SIGNAL(menuWanted(uint32_t, QPoint)));
    connect(rows, &StrataRows::menuWanted, this, [&](uint32_t layer) { menuOf = layer; });
    QContextMenuEvent menu(QContextMenuEvent::Keyboard, {0, 0}, {0, 0});
    QCoreApplication::sendEvent(rows, &menu);
    QCOMPARE(menuOf, w.document().activeLayer);
  }
  void coloursAreTakenAndKept() {
    ByKeys w;
    auto* mixer = w.window.findChild<Mixer*>();
    mixer->setFocus();
    w.chooseColor({0.2f, 0.4f, 0.6f});
    w.chooseColor({0.8f, 0.3f, 0.2f});
    QTest::keyClick(mixer, Qt::Key_Right);
    QCOMPARE(ByKeys::value(mixer), QString("colour before #336699"));
    QTest::keyClick(mixer, Qt::Key_Return);
    QCOMPARE(toHex(w.session().tools().color()), std::string("#336699"));
    // to the last well, backwards
    QTest::keyClick(mixer, Qt::Key_Left);
    QTest::keyClick(mixer, Qt::Key_Left);
    QVERIFY2(ByKeys::value(mixer).startsWith("well 10"), qPrintable(ByKeys::value(mixer)));
    QTest::keyClick(mixer, Qt::Key_Insert);
    QCOMPARE(toHex(w.document().wells.at(9)), std::string("#336699"));
    QCOMPARE(ByKeys::value(mixer), QString("well 10 #336699"));
    w.chooseColor({0, 0, 0});
    QTest::keyClick(mixer, Qt::Key_Space);
    QCOMPARE(toHex(w.session().tools().color()), std::string("#336699"));
  }
  void theEyeMoves() {
    ByKeys w;
    w.easel().setFocus();
    const Camera start = w.easel().viewing().camera;
    const auto camera = [&] { return w.easel().viewing().camera; };
    QTest::keyClick(&w.easel(), Qt::Key_Right);
    QVERIFY((camera().turn.coeffs() - start.turn.coeffs()).norm() > 0.05f);
    QCOMPARE(camera().target, start.target);
    QTest::keyClick(&w.easel(), Qt::Key_Left);
    QVERIFY((camera().turn.coeffs() - start.turn.coeffs()).norm() < 1e-5f);
    QTest::keyClick(&w.easel(), Qt::Key_Up, Qt::ShiftModifier);
    QVERIFY((camera().target - start.target).norm() > 0.1f);
    QTest::keyClick(&w.easel(), Qt::Key_Down, Qt::ShiftModifier);
    QVERIFY((camera().target - start.target).norm() < 1e-3f);
    QTest::keyClick(&w.easel(), Qt::Key_Plus);
    QVERIFY(camera().distance < 0.9f * start.distance);
    QTest::keyClick(&w.easel(), Qt::Key_Minus);
    QVERIFY(std::abs(camera().distance / start.distance - 1) < 1e-4f);
  }
  void curvesAndRampsAreSet() {
    ByKeys w;
    w.session().apply(withSourceLayer(w.document(), "Adjust", Stratum::Surface, adjustSource({})), "adjust");
    w.window.side().show(SideColumn::Page::Layer);
    w.settle();
    auto* curve = w.window.findChild<CurveBox*>("adjust curve");
    QVERIFY(curve && curve->isVisible());
    const auto press = [&](QWidget* to, std::initializer_list<Qt::Key> keys) {
      for (const Qt::Key key : keys) QTest::keyClick(to, key);
      w.settle();
    };
    const auto points = [&] { return adjustOf(*w.active()->source)->curve; };
    press(curve, {Qt::Key_Insert, Qt::Key_Up, Qt::Key_Up, Qt::Key_Right});
    QCOMPARE(points().size(), size_t{3});
    QVERIFY(std::abs(points()[1][0] - 0.51f) < 1e-5f && std::abs(points()[1][1] - 0.52f) < 1e-5f);
    QCOMPARE(ByKeys::value(curve), QString("point 2 of 3: 51 % becomes 52 %"));
    press(curve, {Qt::Key_PageUp, Qt::Key_Up});
    QVERIFY(std::abs(points()[0][1] - 0.01f) < 1e-5f);
    press(curve, {Qt::Key_PageDown, Qt::Key_Delete});
    QCOMPARE(points().size(), size_t{2});
    press(curve, {Qt::Key_Delete});
    QCOMPARE(points().size(), size_t{2});
    // stops of a ramp
    MaskTerm high;
    high.map = {&kElevationMap, 1, Vec3::UnitY()};
    w.session().apply(withSourceLayer(w.document(), "Ramp", Stratum::Flesh,
                                      rampSource({high}, {{0, {1, 0, 0}, 1}, {1, {0, 0, 1}, 1}})),
                      "ramp");
    w.settle();
    w.awaitBackground();
    auto* ramp = w.window.findChild<RampBar*>("ramp");
    QVERIFY(ramp && ramp->isVisible());
    w.chooseColor({0, 1, 0});
    press(ramp, {Qt::Key_Insert, Qt::Key_Right});
    QCOMPARE(ramp->ramp().size(), size_t{3});
    QVERIFY(std::abs(ramp->ramp()[1].at - 0.51f) < 1e-5f);
    QCOMPARE(ByKeys::value(ramp), QString("stop 2 of 3 at 51 %, #00ff00"));
    press(ramp, {Qt::Key_PageDown, Qt::Key_Return});
    QCOMPARE(toHex(ramp->ramp()[2].color), std::string("#00ff00"));
    press(ramp, {Qt::Key_PageUp, Qt::Key_Delete});
    QCOMPARE(ramp->ramp().size(), size_t{2});
    QCOMPARE(rampContent(*w.active()->source)->stops.size(), size_t{2});
  }
  // Whatever of ours takes the focus has a role, and what is set by a slider is heard and set without one.
  void paintedControlsAreHeardAndSet() {
    ByKeys w;
    QStringList mute;
    int heard = 0;
    for (QWidget* child : w.window.findChildren<QWidget*>()) {
      const QString type = child->metaObject()->className();
      if (!child->isVisible() || !(child->focusPolicy() & Qt::TabFocus) || !type.startsWith("juvenor"))
        continue;
      ++heard;
      const QAccessible::Role role = ByKeys::spoken(child)->role();
      if (role == QAccessible::Client || role == QAccessible::NoRole)
        mute << type + " " + child->objectName();
    }
    QVERIFY2(mute.isEmpty(), qPrintable(mute.join("\n")));
    QVERIFY2(heard > 8, qPrintable(QString::number(heard)));
    for (ValueSlider* slider : w.window.findChildren<ValueSlider*>()) {
      if (!slider->isVisible() || slider->accessibleName() != "Opacity") continue;
      QAccessibleValueInterface* value = ByKeys::spoken(slider)->valueInterface();
      QVERIFY(value);
      QCOMPARE(value->maximumValue().toDouble(), 100.0);
      value->setCurrentValue(35);
      QVERIFY(std::abs(w.session().tools().brush().opacity - 0.35f) < 1e-5f);
      QVERIFY(std::abs(value->currentValue().toDouble() - 35) < 1e-4);
      QCOMPARE(ByKeys::value(slider), QString("35 %"));
      return;
    }
    QFAIL("no slider of the brush's opacity");
  }
};

JUVENOR_TEST(TestByKeys)
}  // namespace juvenor::app
#include "test_by_keys.moc"
