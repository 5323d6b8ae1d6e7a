// The demos: there within seconds, coarse; finer ones take their place, but never what somebody has painted
// and never under a hand.
#include <QDir>
#include <QLabel>
#include <QMenu>
#include <QProgressBar>
#include <QStandardPaths>

#include "app/driven_window.h"
#include "core/document/store/journal.h"
#include "support/history_steps.h"

namespace juvenor::app {
namespace {

constexpr size_t kQuick = 2'500;

// A window whose demo has just opened coarse; each finer one is of a size of its own, or it would be there
// already.
struct CoarseDemo : test::DrivenWindow {
  explicit CoarseDemo(size_t fine) {
    opened = window.openDemo(demo::Figure::Ferryman, fine, kQuick);
    settle();
    coarse = document().surface->size();
  }
  bool isFiner() { return document().surface->size() > 3 * coarse; }
  bool says(const char* what) { return named<QLabel>("message")->text().contains(what); }
  /// Until the finer one is made, and then some.
  void awaitSculptor() {
    for (int i = 0; i < 60'000 && sculpts(); ++i) QTest::qWait(10);
    QTest::qWait(500);
  }
  bool sculpts() { return named<QProgressBar>("sculpting")->isVisible(); }

  bool opened = false;
  size_t coarse = 0;
};

}  // namespace

class TestDemos : public QObject {
  Q_OBJECT
 private slots:
  void opensAtOnceAndGrowsFiner() {
    CoarseDemo w(10'000);
    QVERIFY(w.opened);
    QVERIFY2(w.coarse < 2 * kQuick, qPrintable(QString::number(w.coarse)));
    QVERIFY(w.sculpts());
    w.easel().look(Side::Left);
    const Vec3 back = w.easel().viewing().camera.back();
    Brush brush = w.session().tools().brush();
    brush.radius = 7.5f;
    w.session().tools().setBrush(brush);
    QTRY_VERIFY_WITH_TIMEOUT(w.isFiner(), 600'000);
    // seen as it was, with the brush in hand, as work that nobody has touched
    QVERIFY((w.easel().viewing().camera.back() - back).norm() < 1e-5f);
    QCOMPARE(w.session().tools().brush().radius, 7.5f);
    QCOMPARE(w.session().history().steps().size(), size_t{1});
    QVERIFY(!w.session().unsaved());
    QVERIFY(!w.sculpts());
    QCOMPARE(w.wrongPixels(), 0);
    // the next time it is there at once
    test::DrivenWindow next;
    QVERIFY(next.window.openDemo(demo::Figure::Ferryman, 10'000, kQuick));
    QCOMPARE(next.document().surface->size(), w.document().surface->size());
  }
  // A coarse document that came with the program opens as it is; nothing is sculpted before one can paint.
  void theOneThatShipsComesFirst() {
    const std::filesystem::path folder(QCoreApplication::applicationDirPath().toStdString() + "/demo");
    std::filesystem::create_directories(folder);
    const History made(withPaintedLayer(test::documentOf(test::sphere(20, 50)), "Shipped", Stratum::Pigment),
                       "Demo");
    QVERIFY(saveAs(folder / "keeper.juvenor", test::stepsOf(made), test::currentOf(made)));
    {
      test::DrivenWindow w;
      QVERIFY(w.window.openDemo(demo::Figure::Keeper, 15'000, 200'000));
      QCOMPARE(w.document().layers.back()->name, std::string("Shipped"));
      // the file itself is nobody's to write into
      QVERIFY(w.session().path().empty());
    }
    std::filesystem::remove_all(folder);
  }
  void whatSomebodyHasPaintedStays() {
    CoarseDemo w(11'000);
    w.mouseStroke({w.at({0, -60, 0}), w.at({0, -60, 20})});
    QTRY_VERIFY_WITH_TIMEOUT(w.says("ready"), 600'000);
    QCOMPARE(w.document().surface->size(), w.coarse);
    QVERIFY(w.session().history().steps().size() > 1);
  }
  // The cache may be emptied at any time; what was painted does not lean on it.
  void strokesOutliveTheCache() {
    CoarseDemo w(12'000);
    w.mouseStroke({w.at({0, -60, 0}), w.at({0, -60, 20})});
    QVERIFY(w.session().flush());
    const ColorField painted = w.painted();
    // the journal as a crash would leave it
    const test::Folder crashed;
    for (const auto& entry : std::filesystem::directory_iterator(journalFolder()))
      if (entry.path().extension() != ".lock")
        std::filesystem::copy(entry.path(), crashed.path() / entry.path().filename());
    QVERIFY(QDir(QStandardPaths::writableLocation(QStandardPaths::CacheLocation)).removeRecursively());
    const LeftBehindList left = leftBehind(crashed.path());
    QVERIFY(left.unreadable.empty());
    QCOMPARE(left.journals.size(), size_t{1});
    const auto opened = recover(left.journals[0]);
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    const Document& back = opened->steps[opened->current]->document;
    QVERIFY(test::sameValues(*layerOf(back, back.activeLayer)->source->painted(), painted));
    QVERIFY(w.window.saveTo(test::DrivenWindow::path(w.folder() / "own.juvenor")));
  }
  // A stroke in the air would end with the sculpt it is painted on.
  void waitsForTheHand() {
    CoarseDemo w(13'000);
    const QPoint skin = w.at({0, -60, 0});
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, skin);
    QVERIFY(w.easel().inUse());
    w.awaitSculptor();
    QVERIFY(!w.isFiner() && !w.says("ready"));
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, skin);
    QTRY_VERIFY(w.says("ready"));
    QCOMPARE(w.document().surface->size(), w.coarse);
    QCOMPARE(w.session().history().steps().size(), size_t{2});
  }
  // A menu or a dialog speaks of the layers that are there.
  void waitsForMenusAndDialogs() {
    CoarseDemo w(14'000);
    QMenu menu(&w.window);
    menu.addAction("anything");
    menu.popup(w.easel().mapToGlobal(QPoint(50, 50)));
    QVERIFY(QApplication::activePopupWidget());
    w.awaitSculptor();
    QVERIFY(!w.isFiner());
    menu.close();
    QTRY_VERIFY(w.isFiner());
  }
  void canBeCalledOff() {
    CoarseDemo w(15'000);
    w.named<QPushButton>("cancel sculpting")->click();
    QTRY_VERIFY_WITH_TIMEOUT(w.says("stays"), 600'000);
    QVERIFY(!w.sculpts());
    QCOMPARE(w.document().surface->size(), w.coarse);
    w.mouseStroke({w.at({0, -60, 0}), w.at({0, -60, 20})});
    QCOMPARE(w.session().history().steps().size(), size_t{2});
  }
};

JUVENOR_TEST(TestDemos)
}  // namespace juvenor::app
#include "test_demos.moc"
