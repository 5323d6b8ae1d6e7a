// Skin that is cut away before the eye, so that one sees, and paints, what lies behind it.
#include "app/controls/value_slider.h"
#include "app/easel/cut_bar.h"
#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;

namespace {

// A ball with a cave in it.
Sculpt ballWithACave() {
  return test::together(test::sphere(80, 10), test::insideOut(test::sphere(60, 6)));
}

}  // namespace

class TestCutAwayWindow : public QObject {
  Q_OBJECT
 private slots:
  void caveIsSeenAndPainted() {
    DrivenWindow w(ballWithACave());
    w.session().tools().setTool(app::Tool::Airbrush);
    w.chooseColor({0.9f, 0.1f, 0.1f});
    w.setBrush([](Brush& b) {
      b.radius = 1;
      b.flow = 1;
      b.allParts = true;
    });
    const Rgba16 bare = w.colorNear({0, 0, 10});
    auto* bar = w.named<app::CutBar>("cut bar");
    QVERIFY(!bar->isVisible());
    w.easel().setCutAway(12.f);
    w.settle();
    QVERIFY(bar->isVisible());
    const double millimetres = static_cast<double>(w.document().placement.millimetres);
    auto* depth = w.named<app::ValueSlider>("cut depth");
    QVERIFY(std::abs(depth->value() - 12 * millimetres) < 0.01 * millimetres);
    // what one sees is what the core computes, and it is the far wall
    QCOMPARE(w.wrongPixels(), 0);
    const QPoint middle = w.at({0, 0, -6});
    w.penStroke({{middle, 1}, {middle + QPoint(3, 0), 1}});
    QVERIFY(w.colorNear({0, 0, -6}).a > 30000);
    QVERIFY(w.colorNear({0, 0, 10}) == bare && w.colorNear({0, 0, 6}) == bare);
    // turned around, the plane turns along
    w.easel().look(Side::Back);
    w.settle();
    w.penStroke({{w.at({0, 0, 6}), 1}, {w.at({0.2f, 0, 6}), 1}});
    QVERIFY(w.colorNear({0, 0, 6}).a > 30000 && w.colorNear({0, 0, -10}).a == bare.a);
    QTest::mouseClick(w.named<QPushButton>("cut whole"), Qt::LeftButton);
    w.settle();
    QVERIFY(!bar->isVisible() && !w.easel().viewing().camera.cuts());
    w.penStroke({{w.at({0, 0, -10}), 1}, {w.at({0.2f, 0, -10}), 1}});
    QVERIFY(w.colorNear({0, 0, -10}).a > 30000);
  }
  void keysAndWheelMoveThePlane() {
    DrivenWindow w(ballWithACave());
    w.key(Qt::Key_X, Qt::ShiftModifier);
    QVERIFY(std::abs(w.easel().viewing().camera.cutAway - 5) < 0.1f);
    const auto notch = [&](int way) {
      const QPointF at(w.easel().width() / 2, w.easel().height() / 2);
      QWheelEvent event(at, w.easel().mapToGlobal(at), {}, {0, 120 * way}, Qt::NoButton, Qt::ControlModifier,
                        Qt::NoScrollPhase, false);
      const Camera before = w.easel().viewing().camera;
      QCoreApplication::sendEvent(&w.easel(), &event);
      return before.cutAway - w.easel().viewing().camera.cutAway;
    };
    const float distance = w.easel().viewing().camera.distance;
    QVERIFY(std::abs(notch(1) - 0.2f) < 0.02f);
    QCOMPARE(w.easel().viewing().camera.distance, distance);
    QVERIFY(std::abs(notch(-1) + 0.2f) < 0.02f);
    auto* depth = w.named<app::ValueSlider>("cut depth");
    depth->setFocus();
    const float before = w.easel().viewing().camera.cutAway;
    QTest::keyClick(depth, Qt::Key_Right);
    QVERIFY(w.easel().viewing().camera.cutAway < before);
    // what is kept with the work has nothing cut away
    QVERIFY(!w.easel().look().camera.cuts());
    w.key(Qt::Key_X, Qt::ShiftModifier);
    QVERIFY(!w.easel().viewing().camera.cuts());
    // from whole, the wheel begins at the front
    notch(1);
    QVERIFY(w.easel().viewing().camera.cuts());
    QCOMPARE(w.wrongPixels(), 0);
  }
};

JUVENOR_TEST(TestCutAwayWindow)

}  // namespace juvenor

#include "test_cut_away_window.moc"
