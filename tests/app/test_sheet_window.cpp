// The sheet in the window: laid out beside the painting, painted, picked and combed on like the easel, both
// showing each stroke; UVs made from the menu; layers sent and taken back; squares and density; pictures
// dropped on it.
#include <QComboBox>
#include <QListWidget>
#include <QMimeData>
#include <QTemporaryDir>

#include "core/photo/picture_file.h"
#include "core/textures/open_raster.h"
#include "core/textures/picture_layers.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

// A square of 100 across whose left half fills tile 1001 and whose right half fills 1002.
Sculpt halves(int cells) {
  Sculpt out = test::plane(cells, 100);
  UvSet uv{"UV", {}, out.corners};
  for (const Vec3& v : out.vertices)
    uv.coordinates.emplace_back(2 * (v.x() / 100 + 0.5f), v.y() / 100 + 0.5f);
  out.uvSets = {uv};
  return out;
}

struct Sheets : DrivenWindow {
  explicit Sheets(const Sculpt& sculpt) : DrivenWindow(sculpt) {
    window.setSheetRoom(MainWindow::SheetRoom::Beside);
    awaitSheet();
  }
  SheetPanel& panel() { return window.sheet(); }
  SheetView& view() { return panel().view(); }
  void awaitSheet() {
    for (int i = 0; i < 1000 && panel().laying().running(); ++i) QTest::qWait(10);
    settle();
  }
  // Where a place of the layout lies in the view.
  QPoint on(float u, float v) {
    const SheetViewing& s = view().viewing();
    const Vec3 q = project(s.camera, s.size, {u, v, 0});
    return (QPointF(q.x(), q.y()) / view().devicePixelRatioF()).toPoint();
  }
  void stroke(const std::vector<QPoint>& points) {
    QTest::mousePress(&view(), Qt::LeftButton, {}, points.front());
    for (const QPoint& p : points) move(p, Qt::LeftButton);
    QTest::mouseRelease(&view(), Qt::LeftButton, {}, points.back());
    settle();
  }
  void move(const QPoint& p, Qt::MouseButtons buttons = Qt::NoButton) {
    QMouseEvent event(QEvent::MouseMove, p, view().mapToGlobal(p), Qt::NoButton, buttons, {});
    QCoreApplication::sendEvent(&view(), &event);
    QCoreApplication::processEvents();
  }
  QColor seenAt(float u, float v) {
    settleFully();
    return view().pictureNow().pixelColor(on(u, v) * view().devicePixelRatioF());
  }
};

bool isRed(const QColor& c) {
  return c.red() > 150 && c.green() < 90;
}

}  // namespace

class TestSheetWindow : public QObject {
  Q_OBJECT
 private slots:
  void aPenOnTheSheetPaintsTheSkinAndBothShowIt() {
    Sheets w(halves(60));
    w.chooseColor({0.8f, 0.1f, 0.1f});
    w.setBrush([](Brush& b) {
      b.radius = 6;
      b.flow = 1;
      b.hardness = 0.8f;
    });
    QVERIFY(!isRed(w.seenAt(0.5f, 0.5f)));
    w.stroke({w.on(0.4f, 0.5f), w.on(0.6f, 0.5f)});
    QVERIFY(isRed(w.seenAt(0.5f, 0.5f)));
    QVERIFY(!isRed(w.seenAt(0.5f, 0.2f)));
    // u 0.5 of the first tile is a quarter from the left
    QVERIFY(w.colorNear({-25, 0, 0}).a > 60000);
    QVERIFY(w.colorNear({25, 0, 0}).a == 0);
    QCOMPARE(w.wrongPixels(), 0);
    w.window.undo();
    w.settle();
    QVERIFY(!isRed(w.seenAt(0.5f, 0.5f)));
    // painted on the easel it shows here
    w.mouseStroke({w.at({-28, 0, 0}), w.at({-22, 0, 0})});
    QVERIFY(isRed(w.seenAt(0.5f, 0.5f)));
    // and once more, what was drawn here last
    w.stroke({w.on(0.3f, 0.8f), w.on(0.7f, 0.8f)});
    w.window.undo();
    w.easel().repeatStroke();
    w.awaitBackground();
    QVERIFY(isRed(w.seenAt(0.5f, 0.8f)));
  }
  void tilesAreWalkedThrough() {
    Sheets w(halves(60));
    auto* tiles = w.named<QListWidget>("tiles");
    QVERIFY(tiles->isVisible() && tiles->count() == 2);
    QCOMPARE(tiles->item(1)->text(), QString("1002"));
    tiles->setCurrentRow(1);
    w.settle();
    QCOMPARE(w.view().viewing().tile, 1002);
    w.move(w.on(1.5f, 0.5f));
    // (what lies in the middle of the second tile is a quarter from the right)
    const auto probe = w.session().engine().probeSheet(
        w.document(),
        Vec2(static_cast<float>(w.on(1.5f, 0.5f).x()), static_cast<float>(w.on(1.5f, 0.5f).y())));
    QVERIFY(probe && (probe->point.position - Vec3(25, 0, 0)).norm() < 1);
  }
  void viewAndPickWork() {
    Sheets w(halves(40));
    w.session().apply(withFilled(w.document(), w.document().activeLayer, {0.2f, 0.5f, 0.7f}, 1, kNone),
                      "Fill");
    w.settle();
    w.key(Qt::Key_P);
    QTest::mouseClick(&w.view(), Qt::LeftButton, {}, w.on(0.5f, 0.5f));
    QCOMPARE(toHex(w.session().tools().color()), toHex({0.2f, 0.5f, 0.7f}));
    const Camera before = w.view().viewing().camera;
    QWheelEvent wheel(w.on(0.5f, 0.5f), w.view().mapToGlobal(w.on(0.5f, 0.5f)), {}, {0, 240}, Qt::NoButton,
                      {}, Qt::NoScrollPhase, false);
    const QPoint held = w.on(0.5f, 0.5f);
    QCoreApplication::sendEvent(&w.view(), &wheel);
    QVERIFY(w.view().viewing().camera.distance < before.distance);
    QVERIFY((w.on(0.5f, 0.5f) - held).manhattanLength() <= 2);
    QTest::mousePress(&w.view(), Qt::MiddleButton, {}, held);
    w.move(held + QPoint(30, 10), Qt::MiddleButton);
    w.move(held + QPoint(60, 20), Qt::MiddleButton);
    QTest::mouseRelease(&w.view(), Qt::MiddleButton, {}, held + QPoint(60, 20));
    QVERIFY((w.on(0.5f, 0.5f) - held - QPoint(60, 20)).manhattanLength() <= 4);
    w.view().setFocus();
    QTest::keyClick(&w.view(), Qt::Key_Left);
    QTest::keyClick(&w.view(), Qt::Key_Plus);
    QVERIFY(w.view().viewing().camera.distance < before.distance);
  }
  void squaresAndDensityLieOverBoth() {
    Sheets w(halves(40));
    const QColor plain = w.seenAt(0.5f, 0.53f);
    const QImage easel = w.picture();
    QTest::mouseClick(w.named<QPushButton>("squares"), Qt::LeftButton);
    w.settle();
    QVERIFY(w.seenAt(0.5f, 0.53f) != plain);
    QVERIFY(w.picture() != easel);
    QTest::mouseClick(w.named<QPushButton>("density"), Qt::LeftButton);
    QTRY_VERIFY(!w.panel().densitySaid().isEmpty());
    QVERIFY(!w.named<QPushButton>("squares")->isChecked());
    // 40 gaps over half a tile's height … whole: 256 pixels hold them
    QVERIFY2(w.panel().densitySaid().contains("256 pixels hold all points"),
             qPrintable(w.panel().densitySaid()));
    w.settle();
    QVERIFY(w.picture() != easel);
    QTest::mouseClick(w.named<QPushButton>("density"), Qt::LeftButton);
    w.settle();
    QCOMPARE(w.seenAt(0.5f, 0.53f), plain);
    QCOMPARE(w.picture(), easel);
  }
  void uvsAreMadeFromTheMenu() {
    Sheets w(test::sphere(40, 10));
    QVERIFY(!w.view().viewing().sheet);
    QVERIFY(w.named<QPushButton>("unwrap here")->isVisible());
    QTimer::singleShot(300, &w.window, [&] { w.named<QDialog>("unwrap")->accept(); });
    QTest::mouseClick(w.named<QPushButton>("unwrap here"), Qt::LeftButton);
    w.awaitBackground();
    QTRY_VERIFY_WITH_TIMEOUT(!w.document().sculpt->uvSets.empty(), 30'000);
    w.awaitSheet();
    QTRY_VERIFY(w.view().viewing().sheet);
    QVERIFY(!w.named<QPushButton>("unwrap here")->isVisible());
    w.window.undo();
    w.settle();
    QVERIFY(w.document().sculpt->uvSets.empty());
    QTRY_VERIFY(!w.view().viewing().sheet);
    w.window.redo();
    w.awaitSheet();
    QTRY_VERIFY(w.view().viewing().sheet);
    QVERIFY(w.window.saveTo(DrivenWindow::path(w.folder() / "u.juvenor")));
    QVERIFY(w.window.openFile(DrivenWindow::path(w.folder() / "u.juvenor")));
    QCOMPARE(w.document().sculpt->uvSets[0].name, std::string("Unwrapped"));
  }
  void aSetIsChosen() {
    Sculpt two = halves(20);
    UvSet other = two.uvSets[0];
    other.name = "Other";
    for (Vec2& uv : other.coordinates) uv = 0.5f * uv;
    two.uvSets.push_back(other);
    Sheets w(test::plane(20, 100));
    w.session().take(History(test::documentOf(two), "Open"), "two");
    w.settle();
    w.awaitSheet();
    auto* sets = w.named<QComboBox>("uv set");
    QVERIFY(sets->isVisible() && sets->count() == 2);
    QCOMPARE(sets->currentIndex(), 0);
    sets->setCurrentIndex(1);
    emit sets->activated(1);
    w.awaitSheet();
    QCOMPARE(w.session().uvSet(), size_t{1});
    QTRY_COMPARE(w.view().viewing().sheet->tiles.size(), size_t{1});
  }
  void layersGoOutAndComeBack() {
    Sheets w(halves(40));
    w.session().apply(withFilled(w.document(), w.document().activeLayer, {0.2f, 0.5f, 0.7f}, 1, kNone),
                      "Fill");
    const QString file = DrivenWindow::path(w.folder() / "layers.ora");
    QVERIFY(w.window.sendLayersTo(file, 512));
    QVERIFY(std::filesystem::exists(w.folder() / "layers.sent.ora"));
    const size_t steps = w.session().history().steps().size();
    QVERIFY(w.window.takeLayersFrom(file));
    QCOMPARE(w.session().history().steps().size(), steps);
    RasterPicture picture = *readOpenRaster(w.folder() / "layers.ora");
    picture.layers[0].png = *encodePng(
        {picture.width, picture.height},
        std::vector<uint32_t>(static_cast<size_t>(picture.width * picture.height), 0xffc02020), true);
    QVERIFY(writeBytes(w.folder() / "layers.ora", *openRasterBytes(picture)));
    QVERIFY(w.window.takeLayersFrom(file));
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    // tile 1001 is the left half
    QCOMPARE(QString::fromStdString(toHex(straight(w.colorNear({-25, 0, 0})))), QString("#c02020"));
    QCOMPARE(toHex(straight(w.colorNear({25, 0, 0}))), toHex({0.2f, 0.5f, 0.7f}));
    QVERIFY(!w.window.takeLayersFrom(DrivenWindow::path(w.folder() / "none.ora")));
  }
  void aPictureIsLaidWhereItIsDropped() {
    Sheets w(halves(40));
    QVERIFY(writeBytes(w.folder() / "skin.png",
                       *encodePng({64, 64}, std::vector<uint32_t>(64 * 64, 0xff30a060))));
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(DrivenWindow::path(w.folder() / "skin.png"))});
    QDragEnterEvent enter(w.on(0.5f, 0.5f), Qt::CopyAction, &data, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&w.view(), &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop(w.on(0.5f, 0.5f), Qt::CopyAction, &data, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&w.view(), &drop);
    w.settle();
    QCOMPARE(QString::fromStdString(toHex(straight(w.colorNear({-25, 0, 0})))), QString("#30a060"));
    QVERIFY(w.colorNear({25, 0, 0}).a == 0);
  }
  void theSheetTakesAllRoomAndGivesItBack() {
    Sheets w(halves(20));
    w.key(Qt::Key_U, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(!w.easel().isVisible() && w.panel().isVisible());
    w.key(Qt::Key_U, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(w.easel().isVisible() && w.panel().isVisible());
    w.key(Qt::Key_U, Qt::ControlModifier);
    QVERIFY(w.easel().isVisible() && !w.panel().isVisible());
    // squares need no sheet beside
    w.key(Qt::Key_I, Qt::ShiftModifier);
    QVERIFY(w.panel().squares());
  }
};

JUVENOR_TEST(TestSheetWindow)
}  // namespace juvenor::app
#include "test_sheet_window.moc"
