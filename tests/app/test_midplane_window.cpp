// The figure's own mirror plane in the window: found, dragged, typed, and painted across.
#include <QDoubleSpinBox>

#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;

namespace {

// Symmetric in a plane that is turned and moved aside.
Sculpt turnedFigure() {
  Sculpt out = test::sphere(60, 30);
  const Eigen::Matrix3f turn = Eigen::AngleAxisf(0.12f, Vec3::UnitY()).toRotationMatrix();
  for (Vec3& p : out.vertices) {
    p.y() *= 1.4f;
    p.z() += 9 * std::exp(-((p - Vec3(0, 5, 30)).squaredNorm()) / 60);
    p.x() *= 1 + 0.2f * std::exp(-((p - Vec3(p.x() > 0 ? 30.f : -30.f, 3, 2)).squaredNorm()) / 80);
    p = turn * p + Vec3(7, 0, 0);
  }
  return out;
}

}  // namespace

class TestMidplaneWindow : public QObject {
  Q_OBJECT
 private slots:
  void foundAndPaintedAcross() {
    DrivenWindow w(turnedFigure());
    w.key(Qt::Key_M, Qt::ShiftModifier);
    QCOMPARE(w.session().tools().tool(), app::Tool::MirrorPlane);
    QVERIFY(w.named<QWidget>("mirror bar")->isVisible());
    QTest::mouseClick(w.named<QPushButton>("mirror fit"), Qt::LeftButton);
    w.awaitBackground();
    const MirrorPlane plane = w.document().mirror;
    QVERIFY(plane.normal.dot(Eigen::AngleAxisf(0.12f, Vec3::UnitY()) * Vec3::UnitX()) > 0.999f);
    QVERIFY(std::abs(w.named<QDoubleSpinBox>("mirror turn")->value() - 6.9) < 0.6);
    w.session().tools().setTool(app::Tool::Airbrush);
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    w.setBrush([](Brush& b) {
      b.radius = 3;
      b.flow = 1;
      b.mirror[0] = true;
    });
    const Vec3 on = w.document().surface->positions[*nearestSample(*w.document().surface, {20, 5, 22}, 1e6f)];
    w.mouseStroke({w.at(on), w.at(on) + QPoint(3, 0)});
    QVERIFY(w.colorNear(on).a > 10000);
    QVERIFY(w.colorNear(plane.mirrored(on)).a > 10000);
  }
  void draggedAndTyped() {
    DrivenWindow w(test::sphere(40, 10));
    w.session().tools().setTool(app::Tool::MirrorPlane);
    w.settle();
    const QPoint from = w.at({0, 0, 0}), to = w.at({2, 0, 0});
    w.mouseStroke({from, (from + to) / 2, to});
    w.awaitBackground();
    QVERIFY2(std::abs(w.document().mirror.offset - 2) < 0.1f,
             qPrintable(QString::number(static_cast<double>(w.document().mirror.offset))));
    QVERIFY(w.document().mirror.normal == Vec3::UnitX());
    auto* lean = w.named<QDoubleSpinBox>("mirror lean");
    lean->setValue(30);
    w.awaitBackground();
    QVERIFY(std::abs(w.document().mirror.normal.y() - 0.5f) < 0.01f);
    w.window.undo();
    w.settle();
    QVERIFY(std::abs(lean->value()) < 0.01);
    QTest::mouseClick(w.named<QPushButton>("mirror zero"), Qt::LeftButton);
    w.awaitBackground();
    QVERIFY(w.document().mirror == MirrorPlane{});
    // broken off, it stays where it was
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, from);
    QMouseEvent move(QEvent::MouseMove, to, w.easel().mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&w.easel(), &move);
    QTest::keyClick(&w.easel(), Qt::Key_Escape);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, to);
    w.awaitBackground();
    QVERIFY(w.document().mirror == MirrorPlane{});
  }
};

JUVENOR_TEST(TestMidplaneWindow)

}  // namespace juvenor

#include "test_midplane_window.moc"
