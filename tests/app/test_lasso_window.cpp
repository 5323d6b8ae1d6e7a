// Going around skin with the lasso, to hide it by a mask or to guard it.
#include <QDoubleSpinBox>

#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;

class TestLassoWindow : public QObject {
  Q_OBJECT

  static std::vector<QPoint> square(const QPoint& middle, int half) {
    std::vector<QPoint> out;
    for (int side = 0; side < 4; ++side)
      for (int k = -half; k < half; k += 5)
        out.push_back(middle + (side == 0   ? QPoint(k, -half)
                                : side == 1 ? QPoint(half, k)
                                : side == 2 ? QPoint(-k, half)
                                            : QPoint(-half, -k)));
    return out;
  }
  static uint16_t valueNear(const Document& d, const ScalarField& field, const Vec3& p) {
    return field.at(*nearestSample(*d.surface, p, 1e6f))[0];
  }

 private slots:
  void masksAndGuards() {
    DrivenWindow w(test::sphere(80, 10));
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    w.key(Qt::Key_L, Qt::ShiftModifier);
    QCOMPARE(w.session().tools().tool(), app::Tool::Lasso);
    auto* bar = w.named<QWidget>("lasso bar");
    QVERIFY(bar->isVisible());
    const QPoint middle = w.at({0, 0, 10});
    const size_t steps = w.session().history().steps().size();
    w.mouseStroke(square(middle, 40));
    w.awaitBackground();
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    QVERIFY(w.active()->mask.has_value());
    QCOMPARE(valueNear(w.document(), *w.active()->mask, {0, 0, 10}), 0);
    // what is behind is not seen, and stays
    QCOMPARE(valueNear(w.document(), *w.active()->mask, {0, 0, -10}), 65535);
    QTest::mouseClick(w.named<QPushButton>("lasso takes away"), Qt::LeftButton);
    w.mouseStroke(square(middle, 10));
    w.awaitBackground();
    QCOMPARE(valueNear(w.document(), *w.active()->mask, {0, 0, 10}), 65535);
    QTest::mouseClick(w.named<QPushButton>("lasso takes away"), Qt::LeftButton);
    QTest::mouseClick(w.named<QPushButton>("lasso guards"), Qt::LeftButton);
    QTest::mouseClick(w.named<QPushButton>("lasso through"), Qt::LeftButton);
    w.named<QDoubleSpinBox>("lasso soft")->setValue(1);
    w.mouseStroke(square(middle, 40));
    w.awaitBackground();
    QVERIFY(w.document().guard.has_value());
    QCOMPARE(valueNear(w.document(), *w.document().guard, {0, 0, 10}), 0);
    QCOMPARE(valueNear(w.document(), *w.document().guard, {0, 0, -10}), 0);
    const Vec3 aside(10, 0, 0);
    QCOMPARE(valueNear(w.document(), *w.document().guard, aside), 65535);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    QVERIFY(!w.document().guard);
  }
  void makesParts() {
    DrivenWindow w(test::sphere(80, 10));
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    w.session().tools().setTool(app::Tool::Lasso);
    QTest::mouseClick(w.named<QPushButton>("lasso guards"), Qt::LeftButton);
    auto* part = w.named<QPushButton>("lasso part");
    QTest::mouseClick(part, Qt::LeftButton);
    // one of the two
    QVERIFY(part->isChecked() && !w.named<QPushButton>("lasso guards")->isChecked());
    QVERIFY(!w.named<QPushButton>("lasso takes away")->isEnabled());
    const auto skin = w.document().surface;
    w.mouseStroke(square(w.at({0, 0, 10}), 40));
    w.awaitBackground();
    QCOMPARE(w.document().sculpt->parts.size(), size_t{2});
    const Surface& now = *w.document().surface;
    QCOMPARE(now.positions, skin->positions);
    QCOMPARE(now.parts[*nearestSample(now, {0, 0, 10}, 1)], 1u);
    QCOMPARE(now.parts[*nearestSample(now, {0, 0, -10}, 1)], 0u);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    QCOMPARE(w.document().surface, skin);
  }
  void breakingOffDoesNothing() {
    DrivenWindow w(test::sphere(40, 10));
    w.session().tools().setTool(app::Tool::Lasso);
    const size_t steps = w.session().history().steps().size();
    const QPoint middle = w.at({0, 0, 10});
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, middle);
    for (int k = 0; k < 10; ++k) {
      const QPoint p = middle + QPoint(4 * k, 3 * k);
      QMouseEvent move(QEvent::MouseMove, p, w.easel().mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(&w.easel(), &move);
    }
    QVERIFY(w.easel().inUse());
    QTest::keyClick(&w.easel(), Qt::Key_Escape);
    QVERIFY(!w.easel().inUse());
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, middle);
    // a click is no outline, and off the sculpt there is nothing to go around
    w.mouseStroke({middle});
    w.mouseStroke(square({30, 40}, 10));
    w.awaitBackground();
    QCOMPARE(w.session().history().steps().size(), steps);
  }
};

JUVENOR_TEST(TestLassoWindow)

}  // namespace juvenor

#include "test_lasso_window.moc"
