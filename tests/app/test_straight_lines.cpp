// Straight segments, press by press, and on the middle of what is mirrored.
#include "driven_window.h"

namespace juvenor::app {

class TestStraightLines : public QObject {
  Q_OBJECT

  static void click(test::DrivenWindow& w, const Vec3& place, const QPoint& beside = {}) {
    const QPoint p = w.at(place) + beside;
    QTest::mouseMove(&w.easel(), p);
    w.hover(p);
    QTest::mousePress(&w.easel(), Qt::LeftButton, Qt::ControlModifier, p);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, Qt::ControlModifier, p);
    w.settle();
  }
  static size_t steps(test::DrivenWindow& w) { return w.session().history().steps().size(); }

  struct Ball : test::DrivenWindow {
    Ball() : DrivenWindow(test::sphere(120, 10)) {
      session().apply(withPaintedLayer(document(), "Paint", Stratum::Pigment), "Add");
      session().tools().setTool(Tool::Airbrush);
      setBrush([](Brush& b) {
        b.radius = 0.5f;
        b.flow = 1;
        b.mirror = {};
      });
      settle();
    }
    // the furthest any painted sample is from the plane x = 0
    float furthest() {
      float out = 0;
      for (size_t s = 0; s < document().surface->size(); ++s)
        if (colorAt(painted(), s).a > 0) out = std::max(out, std::abs(document().surface->positions[s].x()));
      return out;
    }
  };

 private slots:
  void eachClickGoesOnFromTheLast() {
    Ball w;
    const size_t before = steps(w);
    const Vec3 a(-4, 0, 9.16f), b(0, 4, 9.16f), c(4, 0, 9.16f);
    click(w, a);
    QCOMPARE(steps(w), before + 1);
    QVERIFY(w.colorNear(a).a > 0);
    QCOMPARE(w.colorNear(b).a, uint16_t{0});
    click(w, b);
    click(w, c);
    QCOMPARE(steps(w), before + 3);
    // all the way, and nowhere between the ends
    for (const Vec3& on : {b, c, Vec3(-2.f, 2.f, 9.6f), Vec3(2.f, 2.f, 9.6f)}) QVERIFY(w.colorNear(on).a > 0);
    QCOMPARE(w.colorNear({0, 0, 10}).a, uint16_t{0});
    // it goes on from any stroke, wherever one looks from
    w.easel().setCamera(turned(w.easel().viewing().camera, {60, 0}));
    w.settle();
    click(w, {0, -4, 9.16f});
    QVERIFY(w.colorNear({2.f, -2.f, 9.6f}).a > 0);
    QVERIFY(w.wrongPixels() == 0);
  }

  void escapeLaysNothing() {
    Ball w;
    click(w, {-4, 0, 9.16f});
    const size_t before = steps(w);
    QTest::mousePress(&w.easel(), Qt::LeftButton, Qt::ControlModifier, w.at({4, 0, 9.16f}));
    QTest::keyClick(&w.easel(), Qt::Key_Escape);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, Qt::ControlModifier, w.at({4, 0, 9.16f}));
    w.settle();
    QCOMPARE(steps(w), before);
    QVERIFY(!w.easel().inUse());
  }

  void onTheMiddleWhileMirrored() {
    Ball w;
    w.setBrush([](Brush& b) { b.mirror = {true, false, false}; });
    // seen from aside a straight way over the ball is not its middle
    w.easel().setCamera(turned(w.easel().viewing().camera, {90, 20}));
    w.settle();
    click(w, {0, 7.07f, 7.07f}, {4, 0});
    click(w, {0, -3, 9.54f}, {-4, 1});
    QVERIFY(w.colorNear({0, 2, 9.8f}).a > 0);
    QVERIFY2(w.furthest() < 0.75f, qPrintable(QString::number(w.furthest())));
    // far from the middle it stays where it is
    click(w, {3, -3, 9.05f});
    QVERIFY(w.furthest() > 2.5f);
  }
};

JUVENOR_TEST(TestStraightLines)
}  // namespace juvenor::app
#include "test_straight_lines.moc"
