// Eyes set and turned on the easel, and set up on their page.
#include <QComboBox>

#include "app/controls/value_slider.h"
#include "app/layer_card/layer_card.h"
#include "core/layers/sources/eyes.h"
#include "core/layers/sources/registry.h"
#include "driven_window.h"

namespace juvenor::app {

class TestEyesWindow : public QObject {
  Q_OBJECT
 private slots:
  void pressesSetAndTurnEyes() {
    test::DrivenWindow w(head());
    addEyes(w);
    QCOMPARE(w.session().tools().tool(), Tool::Zones);
    // one press, both eyes
    const Vec3 place(30, 10, 22);
    press(w, w.at(place));
    QTRY_COMPARE(eyes(w).balls.size(), size_t{2});
    w.settle();
    QVERIFY((eyes(w).balls[0].look - Vec3::UnitZ()).norm() < 0.1f);
    QVERIFY(w.named<QPushButton>("eye remove")->isVisible());
    // the grip of the look, dragged to the side: both go the same way, live
    const Vec3 center = eyes(w).balls[0].center, side = Vec3(0.4f, 0.1f, 0.9f).normalized();
    const QPoint from = w.at(center + 12 * eyes(w).balls[0].look), to = w.at(center + 12 * side);
    const size_t steps = w.session().history().steps().size();
    w.mouseStroke({from, (from + to) / 2, to});
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    QVERIFY((eyes(w).balls[0].look - side).norm() < 0.12f);
    QVERIFY((eyes(w).balls[1].look - side).norm() < 0.12f);
    // one by itself, by a press elsewhere on its ball
    w.named<QPushButton>("eye both")->click();
    const Vec3 other = eyes(w).balls[1].center, before = eyes(w).balls[0].look;
    press(w, w.at(other + 12 * Vec3(-0.5f, -0.4f, 0.75f).normalized()));
    QTRY_VERIFY((eyes(w).balls[1].look - Vec3(-0.5f, -0.4f, 0.75f).normalized()).norm() < 0.1f);
    QVERIFY(eyes(w).balls[0].look == before);
    w.settle();
    w.window.undo();
    QTRY_VERIFY((eyes(w).balls[1].look - side).norm() < 0.12f);
  }
  void theIrisIsStretched() {
    test::DrivenWindow w(head());
    addEyes(w);
    press(w, w.at({30, 10, 22}));
    QTRY_COMPARE(eyes(w).balls.size(), size_t{2});
    w.settle();
    const Vec3 center = eyes(w).balls[0].center;
    const float iris = eyes(w).iris;
    const auto rim = [&](float away) { return w.at(center + Vec3(away, 0, std::sqrt(144 - away * away))); };
    w.mouseStroke({rim(iris), rim(7), rim(8)});
    QVERIFY2(std::abs(eyes(w).iris - 8) < 0.6f,
             qPrintable(QString::number(static_cast<double>(eyes(w).iris))));
  }
  // Corners are pulled, put between others, and joined again.
  void aDrawnPupilIsPulled() {
    test::DrivenWindow w(head());
    addEyes(w);
    press(w, w.at({30, 10, 22}));
    QTRY_COMPARE(eyes(w).balls.size(), size_t{2});
    w.settle();
    Eyes large = eyes(w);
    large.pupil = 5;
    large.uneven = 0;  // its middle is that of the look
    w.session().apply(withSource(w.document(), w.document().activeLayer, eyeSource(large)), "Larger");
    emit w.named<QComboBox>("pupil shape")->activated(static_cast<int>(PupilShape::Drawn));
    w.settle();
    const std::vector<Vec2> first = eyes(w).outline;
    QCOMPARE(first.size(), size_t{4});
    const Vec3 center = eyes(w).balls[0].center;
    const auto spot = [&](const Vec2& part) {
      const Vec2 p = 5 * part;
      return w.at(center + Vec3(p.x(), p.y(), std::sqrt(144 - p.squaredNorm())));
    };
    const Vec2 top(0.1f, 0.9f);
    w.mouseStroke({spot(first[1]), spot({0.05f, 0.7f}), spot(top)});
    QCOMPARE(eyes(w).outline.size(), size_t{4});
    QVERIFY2((eyes(w).outline[1] - top).norm() < 0.06f, qPrintable(QString::number(eyes(w).outline[1].y())));
    const Vec2 side = 0.5f * (first[2] + first[3]), out(-0.7f, -0.7f);
    w.mouseStroke({spot(side), spot({-0.6f, -0.5f}), spot(out)});
    QCOMPARE(eyes(w).outline.size(), size_t{5});
    QVERIFY((eyes(w).outline[3] - out).norm() < 0.06f);
    w.mouseStroke({spot(out), spot({-0.85f, -0.3f}), spot(first[2])});
    QCOMPARE(eyes(w).outline.size(), size_t{4});
    w.window.undo();
    QTRY_COMPARE(eyes(w).outline.size(), size_t{5});
  }
  void thePageSetsThemUp() {
    test::DrivenWindow w(head());
    addEyes(w);
    press(w, w.at({30, 10, 22}));
    QTRY_COMPARE(eyes(w).balls.size(), size_t{2});
    w.settle();
    auto* usual = w.named<QComboBox>("usual eyes");
    QVERIFY(usual && usual->isVisibleTo(w.window.findChild<LayerCard*>()));
    usual->setCurrentIndex(4);
    emit usual->activated(4);
    w.settle();
    const Eyes brown = eyes(w);
    QVERIFY(brown.rings == usualEyes()[3].of(brown).rings);
    QCOMPARE(brown.balls.size(), size_t{2});
    w.named<QToolButton>("ring 2")->click();
    w.named<QPushButton>("more rings")->click();
    w.settle();
    QCOMPARE(eyes(w).rings.size(), brown.rings.size() + 1);
    slide(w, "eyes Melanin", 0.1);
    QVERIFY(std::abs(eyes(w).rings[1].melanin - 0.1f) < 0.01f);
    w.named<QPushButton>("fewer rings")->click();
    w.settle();
    QCOMPARE(eyes(w).rings.size(), brown.rings.size());
    auto* shape = w.named<QComboBox>("pupil shape");
    emit shape->activated(static_cast<int>(PupilShape::Upright));
    w.settle();
    QCOMPARE(eyes(w).shape, PupilShape::Upright);
    w.named<QPushButton>("eye remove")->click();
    w.settle();
    QCOMPARE(eyes(w).balls.size(), size_t{1});
  }
  void whereNoBallIsOneIsTold() {
    test::DrivenWindow w(test::plane(60, 100));
    addEyes(w);
    QString told;
    connect(&w.session(), &Session::said, this, [&](const QString& words, bool) { told = words; });
    press(w, w.at({0, 0, 0}));
    QTRY_VERIFY2(told.contains("eyeball"), qPrintable(told));
    QVERIFY(eyes(w).balls.empty());
  }

 private:
  static Sculpt head() {
    return test::together(
        test::together(test::sphere(60, 60, {0, 0, -45}), test::sphere(60, 12, {-30, 10, 10})),
        test::sphere(60, 12, {30, 10, 10}));
  }
  static const Eyes& eyes(test::DrivenWindow& w) { return *eyesOf(*w.active()->source); }
  static void addEyes(test::DrivenWindow& w) {
    const SourceKind& kind = *sourceKind("eyes");
    const Document& d = w.document();
    w.session().apply(withSourceLayer(d, "Eyes", kind.stratum, kind.fresh(*d.surface, {0.5f, 0.4f, 0.3f})),
                      "Add");
    if (const auto tool = toolOf(kind)) w.session().tools().setTool(*tool);
    w.settle();
  }
  static void press(test::DrivenWindow& w, const QPoint& at) {
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, at);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, at);
    w.settle();
  }
  static void slide(test::DrivenWindow& w, const char* name, double to) {
    auto* slider = w.named<ValueSlider>(name);
    QVERIFY2(slider, name);
    slider->show(to);
    emit slider->changed(to);
    emit slider->settled();
    w.settle();
  }
};

JUVENOR_TEST(TestEyesWindow)
}  // namespace juvenor::app
#include "test_eyes_window.moc"
