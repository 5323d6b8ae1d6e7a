// The Finish stage's Maps in the window: what is told of UVs, maps written into a folder while one paints on,
// over files that are there, stopped, for another mesh, once more.
#include <QCheckBox>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/sheet/sheet_view.h"
#include "app/stage/maps_page.h"
#include "core/layers/composite/composite.h"
#include "core/photo/picture_data.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

// A sheet in one tile; `twice`: all of it lies on its lower left quarter, four times.
Sculpt sheet(int cells, bool twice = false) {
  Sculpt out = test::plane(cells, 100);
  UvSet uv{"UV", {}, out.corners};
  for (const Vec3& v : out.vertices) {
    Vec2 at(v.x() / 100 + 0.5f, v.y() / 100 + 0.5f);
    if (twice) at = Vec2(std::abs(at.x() - 0.5f), std::abs(at.y() - 0.5f));
    uv.coordinates.push_back(Vec2(0.05f, 0.05f) + 0.9f * at);
  }
  out.uvSets = {uv};
  return out;
}

struct Maps : DrivenWindow {
  explicit Maps(const Sculpt& sculpt) : DrivenWindow(sculpt) {
    window.side().show(SideColumn::Page::Stage);
    window.side().stage().goTo(kFinishStage);
    settle();
  }
  MapsPage& page() { return window.side().stage().maps(); }
  QString text(const char* name) { return named<QLabel>(name)->text(); }
  void click(const char* name) {
    auto* b = named<QAbstractButton>(name);
    QVERIFY2(b && b->isEnabled(), name);
    QTest::mouseClick(b, Qt::LeftButton);
  }
  void tickAlone(std::initializer_list<const char*> names) {
    for (auto* box : page().findChildren<QCheckBox*>())
      if (box->objectName().startsWith("map ")) box->setChecked(false);
    for (const char* name : names) named<QCheckBox>(name)->setChecked(true);
  }
  bool written() { return named<QAbstractButton>("maps as last")->isEnabled(); }
};

QStringList filesIn(const QTemporaryDir& folder) {
  return QDir(folder.path()).entryList(QDir::Files, QDir::Name);
}

}  // namespace

class TestMapsWindow : public QObject {
  Q_OBJECT
 private slots:
  void whatWouldGoWrongIsToldBefore() {
    Maps plain(test::plane(20, 100));
    QVERIFY(plain.text("map warning").contains("no UVs"));
    QVERIFY(!plain.named<QAbstractButton>("write maps")->isEnabled());
    Maps good(sheet(40));
    QTRY_VERIFY_WITH_TIMEOUT(good.text("map facts").contains("px a mm"), 20'000);
    QVERIFY2(good.text("map warning").isEmpty(), qPrintable(good.text("map warning")));
    QVERIFY(good.named<QAbstractButton>("write maps")->isEnabled());
    Maps doubled(sheet(40, true));
    QTRY_VERIFY_WITH_TIMEOUT(doubled.text("map warning").contains("lies double"), 20'000);
  }
  void cameraAndLampsGoAlongOnWish() {
    QTemporaryDir folder;
    Maps w(sheet(20));
    Light lamps;
    lamps.kind = LightKind::Lamps;
    w.easel().setLight(lamps);
    w.tickAlone({"map colour"});
    w.click("map size 1k");
    QVERIFY(!w.named<QCheckBox>("maps scene")->isEnabled());
    w.click("maps mesh GLB");
    w.named<QCheckBox>("maps scene")->setChecked(true);
    const HandOn wish = w.page().wish();
    QCOMPARE(wish.cameras.size(), size_t{1});
    QCOMPARE(wish.lamps.size(), size_t{3});  // the catch light lights nothing
    // it stands where the eye stands, and looks where it looks
    const Camera& camera = w.easel().viewing().camera;
    QVERIFY((wish.cameras[0].pose.topRightCorner<3, 1>() - camera.eye()).norm() < 1e-3f);
    QVERIFY((wish.cameras[0].pose.block<3, 1>(0, 2) - camera.back()).norm() < 1e-5f);
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.written(), 30'000);
    const QStringList files = QDir(folder.path()).entryList({"*.glb"});
    QCOMPARE(files.size(), 1);
    const auto bytes = readBytes((folder.path() + "/" + files[0]).toStdString());
    QVERIFY(bytes && bytes->find("KHR_lights_punctual") != std::string::npos &&
            bytes->find("\"perspective\"") != std::string::npos);
    w.named<QCheckBox>("maps scene")->setChecked(false);
    QVERIFY(w.page().wish().cameras.empty());
  }
  void pointsFinerThanPixelsAreTold() {
    Sculpt fine = sheet(300);
    // a tenth of the tile for all of it
    for (Vec2& uv : fine.uvSets[0].coordinates) uv *= 0.1f;
    Maps w(fine);
    w.click("map size 1k");
    QTRY_VERIFY_WITH_TIMEOUT(w.text("map warning").contains("Points are finer than pixels"), 20'000);
    w.click("map size 16k");
    QTRY_VERIFY(!w.text("map warning").contains("Points are finer"));
  }
  void mapsAreWrittenAndOnceMore() {
    const QTemporaryDir folder;
    Maps w(sheet(40));
    w.session().apply(withFillLayer(w.document(), "Fill", Stratum::Flesh, {0.5f, 0.25f, 0.125f}),
                      "Add layer");
    w.tickAlone({"map colour", "map roughness"});
    w.click("map size 1k");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.written(), 30'000);
    const QString name = w.session().title();
    QCOMPARE(filesIn(folder),
             (QStringList{name + "_colour.png", name + "_maps.json", name + "_roughness.png"}));
    const auto colour = readPicture((folder.path() + "/" + name + "_colour.png").toStdString());
    QVERIFY(colour);
    QCOMPARE((*colour)->pixels[512 * 1024 + 512], 0xff804020u);
    // the skin goes on, and so do the maps
    w.session().apply(withFillLayer(w.document(), "Over", Stratum::Surface, {1, 1, 1}), "Add layer");
    w.click("maps as last");
    QTRY_VERIFY_WITH_TIMEOUT(
        [&] {
          const auto now = readPicture((folder.path() + "/" + name + "_colour.png").toStdString());
          return now && (*now)->pixels[512 * 1024 + 512] == 0xffffffffu;
        }(),
        30'000);
  }
  // Lines of one's own: a layer with its alpha, a mask, several maps in one picture; and taken away again.
  void linesOfOnesOwnAreWritten() {
    const QTemporaryDir folder;
    Maps w(sheet(30));
    Document d = withFillLayer(w.document(), "Warts", Stratum::Surface, {0.5f, 0.25f, 0.125f});
    d = *withMaskFilled(*withMask(d, d.activeLayer), d.activeLayer, 0.5f, 1);
    w.session().apply(d, "Add layer");
    w.tickAlone({});
    QVERIFY(!w.named<QAbstractButton>("write maps")->isEnabled());
    const auto choose = [&](const QStringList& path) {
      QTimer::singleShot(100, &w.window, [path] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QMenu* top = menu;
        QAction* found = nullptr;
        for (const QString& text : path) {
          for (QAction* a : menu->actions())
            if (a->text() == text) found = a;
          if (found && found->menu()) menu = found->menu();
        }
        if (found) found->trigger();
        if (top) top->close();
      });
      w.click("another map");
    };
    choose({"A layer with its alpha", "Warts"});
    choose({"The mask of a layer", "Warts"});
    QTimer::singleShot(300, &w.window, [] {
      auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
      QVERIFY(dialog);
      dialog->setTextValue(" gloss+metal ");
      dialog->accept();
    });
    choose({"Up to four in one …"});
    QTRY_VERIFY(w.named<QCheckBox>("map gloss+metal"));
    QCOMPARE(w.page().wish().maps.size(), size_t{3});
    w.click("map size 1k");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.written(), 30'000);
    QCOMPARE(filesIn(folder).size(), 4);
    bool half = false, withAlpha = false;
    for (const QString& file : filesIn(folder)) {
      if (!file.endsWith(".png")) continue;
      const QImage picture(folder.path() + "/" + file);
      const QColor c = picture.pixelColor(512, 512);
      half |= picture.isGrayscale() && std::abs(c.red() - 128) <= 1;
      withAlpha |= picture.hasAlphaChannel() && std::abs(c.red() - 128) <= 1 && c.green() == 64;
    }
    QVERIFY(half && withAlpha);
    // a line goes by its menu, all go with the document
    auto* depth = w.named<QToolButton>("depth gloss+metal");
    depth->menu()->actions().back()->trigger();
    QTRY_VERIFY(!w.named<QCheckBox>("map gloss+metal"));
    QCOMPARE(w.page().wish().maps.size(), size_t{2});
    emit w.session().opened();
    QVERIFY(w.page().wish().maps.empty());
  }
  // A line's picture shows large in the sheet until it is clicked.
  void aPreviewShowsInTheSheet() {
    Maps w(sheet(30));
    w.session().apply(withFillLayer(w.document(), "Fill", Stratum::Flesh, {0.5f, 0.25f, 0.125f}),
                      "Add layer");
    w.click("preview roughness");
    auto* view = w.named<SheetView>("sheet");
    QTRY_VERIFY_WITH_TIMEOUT(view->previews() && view->isVisible() && view->viewing().sheet, 30'000);
    w.settle();
    const auto middle = [&] {
      const QPixmap shot = view->grab();
      return shot.toImage().pixelColor(shot.width() / 2, shot.height() / 2);
    };
    const QColor rough = middle();
    QCOMPARE(rough.red(), rough.blue());
    QTest::mouseClick(view, Qt::LeftButton, {}, view->rect().center());
    QVERIFY(!view->previews());
    QTRY_VERIFY(middle().red() > middle().blue() + 20);
  }
  void whatWentOutIsBroughtBack() {
    const QTemporaryDir folder;
    Maps w(sheet(40));
    w.session().apply(withFillLayer(w.document(), "Fill", Stratum::Flesh, {0.5f, 0.25f, 0.125f}),
                      "Add layer");
    w.tickAlone({"map colour", "map roughness"});
    w.click("map size 1k");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.written(), 30'000);
    const QString name = folder.path() + "/" + w.session().title();
    w.window.undo();
    w.settle();
    const size_t before = w.document().layers.size();
    w.page().bring({name + "_colour.png", name + "_roughness.png"});
    QCOMPARE(w.document().layers.size(), before + 1);
    const auto skin = skinOf(w.document().layers, *w.document().maps, w.document().bare);
    QVERIFY(skin);
    for (size_t s = 0; s < skin->size(); s += 7) {
      const EncodedColor c = straight(colorAt(skin->color(), s));
      QVERIFY(std::abs(c.r - 0.5f) < 0.01f && std::abs(c.b - 0.125f) < 0.01f);
    }
    QCOMPARE(w.session().history().steps().back()->name, std::string("Bring maps"));
    // what is no picture leaves everything as it is
    w.page().bring({name + "_maps.json"});
    QCOMPARE(w.document().layers.size(), before + 1);
  }
  void whatIsThereIsAskedAbout() {
    const QTemporaryDir folder;
    Maps w(sheet(20));
    w.tickAlone({"map colour"});
    w.click("map size 1k");
    const QString file = folder.path() + "/" + w.session().title() + "_colour.png";
    QFile mine(file);
    QVERIFY(mine.open(QIODevice::WriteOnly) && mine.write("mine") == 4);
    mine.close();
    w.answerWith("Cancel");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.said.contains("_colour.png"), 30'000);
    w.settle();
    QCOMPARE(QFileInfo(file).size(), 4);
    w.answerWith("Write over");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.written(), 30'000);
    QVERIFY(QFileInfo(file).size() > 100);
  }
  void aStopLeavesWholeFiles() {
    const QTemporaryDir folder;
    Maps w(sheet(60));
    w.tickAlone({"map colour", "map normal", "map height"});
    w.click("map size 8k");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.named<QWidget>("maps progress")->isVisible(), 10'000);
    // one paints meanwhile
    const size_t before = w.session().history().steps().size();
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Surface), "Add layer");
    QVERIFY(w.session().history().steps().size() > before);
    w.click("cancel maps progress");
    QTRY_VERIFY_WITH_TIMEOUT(!w.named<QWidget>("maps progress")->isVisible(), 30'000);
    for (const QString& name : filesIn(folder)) QVERIFY2(!name.contains("partial"), qPrintable(name));
    QVERIFY(!w.written());
  }
  void anotherMeshWearsThem() {
    const QTemporaryDir folder;
    Maps w(sheet(40));
    Sculpt low = sheet(2);
    for (Vec3& v : low.vertices) v.z() += 0.2f;
    const auto mesh = std::filesystem::path(folder.path().toStdString()) / "low.obj";
    QVERIFY(writeSculpt(mesh, low, {}));
    w.page().wearBy(QString::fromStdString(mesh.string()));
    QTRY_COMPARE_WITH_TIMEOUT(w.named<QAbstractButton>("maps for")->text(), QString("low.obj"), 10'000);
    QTRY_VERIFY_WITH_TIMEOUT(w.text("map facts").startsWith("8 triangles"), 10'000);
    w.tickAlone({"map colour"});
    w.click("map size 1k");
    w.click("maps mesh GLB");
    w.page().write(folder.path());
    QTRY_VERIFY_WITH_TIMEOUT(w.written(), 30'000);
    QVERIFY(QFileInfo::exists(folder.path() + "/" + w.session().title() + ".glb"));
    // a file that is none is told, and the mesh stays
    w.page().wearBy(folder.path() + "/none.obj");
    QTest::qWait(300);
    QCOMPARE(w.named<QAbstractButton>("maps for")->text(), QString("low.obj"));
  }
};

JUVENOR_TEST(TestMapsWindow)
}  // namespace juvenor::app
#include "test_maps_window.moc"
