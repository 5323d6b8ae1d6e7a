// The light's page, lines, and that a document comes back as it was looked at.
#include <QLabel>

#include "app/controls/value_slider.h"
#include "app/light/light_page.h"
#include "driven_window.h"

namespace juvenor::app {

class TestLightWindow : public QObject {
  Q_OBJECT
 private slots:
  void lampsAreTurnedOnTheBall() {
    test::DrivenWindow w(test::sphere(60, 10));
    w.showSkin();
    const QImage overcast = w.picture();
    w.named<QPushButton>("light")->click();
    auto* page = w.named<LightPage>("light page");
    QVERIFY(page->isVisible());
    w.named<QPushButton>("light lamps")->click();
    QVERIFY(w.easel().viewing().light.kind == LightKind::Lamps);
    QCOMPARE(w.named<QPushButton>("light")->text(), QString("Lamps"));
    const QImage lamps = w.picture();
    QVERIFY(lamps != overcast);
    auto* ball = w.named<LightBall>("light ball");
    // right and a little above the middle: the key stands there, seen from the front
    QTest::mouseClick(ball, Qt::LeftButton, {}, QPoint(74 + 24, 74 - 12));
    const Light& light = w.easel().viewing().light;
    const Vec3 toward = lampDirection(light, light.lamps[0]);
    QVERIFY(std::abs(toward.x() - 0.5f) < 0.03f && std::abs(toward.y() - 0.25f) < 0.03f && toward.z() > 0);
    // beyond the edge it stands behind
    QTest::mouseClick(ball, Qt::LeftButton, {}, QPoint(74 + 62, 74));
    QVERIFY(lampDirection(light, w.easel().viewing().light.lamps[0]).z() < 0);
    QVERIFY(w.picture() != lamps);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void aLampIsPlacedWhereItIsToBeMirrored() {
    test::DrivenWindow w(test::sphere(60, 10));
    w.showSkin();
    w.named<QPushButton>("light")->click();
    w.named<QPushButton>("light lamps")->click();
    w.named<QPushButton>("lamp Catch")->click();
    QVERIFY(!w.easel().viewing().light.lamps[3].on);
    w.named<QPushButton>("lamp place")->click();
    QVERIFY(!w.named<LightPage>("light page")->isVisible());
    QVERIFY(w.named<QPushButton>("place done")->isVisible());
    // right and above the middle of the ball
    const QPoint at = w.easel().rect().center() + QPoint(70, -70);
    const Document before = w.document();
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, at);
    const Light& light = w.easel().viewing().light;
    QVERIFY(light.lamps[3].on);
    const Vec3 toward = lampDirection(lightIn(w.easel().viewing()), light.lamps[3]);
    QVERIFY2(toward.x() > 0.3f && toward.y() > 0.3f && toward.z() > 0.3f,
             qPrintable(
                 QString("%1 %2").arg(static_cast<double>(toward.x())).arg(static_cast<double>(toward.y()))));
    // beside the ball nothing is placed, and nothing of it is painted
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, {4, 4});
    QVERIFY(w.easel().viewing().light == light);
    QVERIFY(w.document().layers == before.layers);
    w.named<QPushButton>("place done")->click();
    QVERIFY(!w.named<QPushButton>("place done")->isVisible());
    QCOMPARE(w.wrongPixels(), 0);
  }
  void surroundingsLightTheSkin() {
    test::DrivenWindow w(test::sphere(60, 10));
    w.showSkin();
    const QImage before = w.picture();
    w.named<QPushButton>("light")->click();
    w.named<QPushButton>("light surroundings")->click();
    QVERIFY(w.easel().viewing().light.environment);
    w.named<QPushButton>("surroundings evening")->click();
    QCOMPARE(w.easel().viewing().light.surroundings, std::string("evening"));
    QVERIFY(w.picture() != before);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void linesGoOnAndOff() {
    test::DrivenWindow w(test::sphere(16, 10));
    w.showSkin();
    const QImage before = w.picture();
    w.key(Qt::Key_I);
    QVERIFY(w.easel().viewing().lines && w.named<QPushButton>("lines")->isChecked());
    // they are found beside the engine
    for (int i = 0; i < 100 && w.picture() == before; ++i) QTest::qWait(20);
    QVERIFY(w.picture() != before);
    w.key(Qt::Key_I);
    QCOMPARE(w.picture(), before);
  }
  void aDocumentComesBackAsItWasLookedAt() {
    test::DrivenWindow w(test::sphere(30, 10));
    w.showSkin();
    Light light = w.easel().viewing().light;
    light.kind = LightKind::Lamps;
    light.lamps[2].strength = 2.5f;
    w.easel().setLight(light);
    w.easel().look(Side::Right);
    w.key(Qt::Key_3);
    const Camera camera = w.easel().viewing().camera;
    const QString file = w.path(w.folder() / "kept.juvenor");
    QVERIFY(w.window.saveTo(file));
    w.key(Qt::Key_1);
    w.easel().setLight({});
    w.easel().look(Side::Front);
    QVERIFY(w.window.openFile(file));
    w.settle();
    QVERIFY(w.easel().viewing().view == View::Clay);
    QVERIFY(w.easel().viewing().light == light);
    QVERIFY(w.easel().viewing().camera.turn.angularDistance(camera.turn) < 1e-3f);
  }
};

JUVENOR_TEST(TestLightWindow)
}  // namespace juvenor::app
#include "test_light_window.moc"
