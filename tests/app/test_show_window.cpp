// Showing in the window: cameras and variants in strips at the easel's foot, stills that grow beside the
// painting, films, sheets and passes.
#include <QCheckBox>
#include <QLabel>
#include <QProcess>
#include <QSpinBox>
#include <QToolButton>

#include "app/controls/value_slider.h"
#include "app/show/foot_strip.h"
#include "app/show/show_page.h"
#include "core/document/edits/edit_cameras.h"
#include "core/document/edits/edits.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

struct ShowingWork : test::DrivenWindow {
  ShowingWork() : DrivenWindow(test::twoParts()) {
    session().apply(withFillLayer(document(), "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f}), "Tone");
    window.side().show(SideColumn::Page::Stage);
    session().tools().setStage(kFinishStage);
    window.side().stage().finish().goTo(FinishPages::Page::Show);
    settle();
  }
  ShowPage& page() { return window.side().stage().finish().showing(); }
  void trigger(const char* key) {
    for (QAction* a : window.findChildren<QAction*>())
      if (a->shortcut() == QKeySequence(key)) a->trigger();
    settle();
  }
  void small(int samples) {
    named<QSpinBox>("still width")->setValue(96);
    named<QSpinBox>("still height")->setValue(64);
    page().findChild<ValueSlider*>("still samples")->show(samples);
  }
  // Until what grows is done, or was stopped.
  void grown() {
    QTRY_VERIFY_WITH_TIMEOUT(page().window() && !page().window()->running(), 30000);
    settle();
  }
  QString says() { return page().window()->findChild<QLabel*>("still says")->text(); }
};

}  // namespace

class TestShowWindow : public QObject {
  Q_OBJECT
 private slots:
  void camerasAreKeptAndGoneBackTo() {
    ShowingWork w;
    QVERIFY(!w.window.cameras().isVisible());
    w.trigger("Shift+C");
    QVERIFY(w.window.cameras().isVisible());
    w.named<QPushButton>("keep camera")->click();
    w.settle();
    QCOMPARE(w.document().cameras.size(), size_t{1});
    const Camera front = w.easel().viewing().camera;
    w.easel().setCamera(turned(front, Vec2(120, 0)));
    w.easel().setView(View::Clay);
    w.settle();
    w.trigger("Shift+K");
    QCOMPARE(w.document().cameras.size(), size_t{2});
    QTRY_VERIFY_WITH_TIMEOUT(w.window.cameras().upToDate(), 10000);
    auto* first = w.named<QToolButton>("cameras Camera 1");
    auto* second = w.named<QToolButton>("cameras Camera 2");
    QVERIFY(first && second);
    QVERIFY(first->icon().pixmap(104, 66).toImage() != second->icon().pixmap(104, 66).toImage());
    first->click();
    QTRY_VERIFY(w.easel().viewing().camera == front);
    QVERIFY(w.easel().viewing().view == View::Flat);
    // one step each, to be undone
    w.window.undo();
    w.settle();
    QCOMPARE(w.document().cameras.size(), size_t{1});
    QTRY_VERIFY(!w.named<QToolButton>("cameras Camera 2"));
    w.trigger("Shift+C");
    QVERIFY(!w.window.cameras().isVisible());
  }

  void variantsAreComparedByAPress() {
    ShowingWork w;
    w.trigger("Shift+G");
    w.named<QPushButton>("keep variant")->click();
    w.settle();
    LayerChange hide;
    hide.visible = false;
    w.session().apply(withLayerChanged(w.document(), w.document().activeLayer, hide), "Hide");
    w.named<QPushButton>("keep variant")->click();
    w.settle();
    auto* with = w.named<QToolButton>("variants Variant 1");
    auto* without = w.named<QToolButton>("variants Variant 2");
    QVERIFY(with && without);
    QVERIFY(!with->isChecked() && without->isChecked());
    with->click();
    w.settle();
    QVERIFY(w.document().layers.back()->visible);
    QVERIFY(with->isChecked() && !without->isChecked());
    QCOMPARE(w.wrongPixels(), 0);
  }

  void aStillGrowsWhileOnePaints() {
    ShowingWork w;
    w.small(8);
    w.named<QPushButton>("make still")->click();
    // painting goes on meanwhile
    const QPoint at = w.easel().rect().center();
    w.window.activateWindow();
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Layer");
    w.penStroke({{at, 0.8}, {at + QPoint(20, 0), 0.8}});
    w.grown();
    QVERIFY2(w.says().startsWith("96 × 64"), qPrintable(w.says()));
    QVERIFY(w.active()->source->fields() != nullptr);
    const auto file = w.folder() / "still.png";
    QSignalSpy saved(w.page().window(), &StillWindow::saved);
    w.page().window()->save(w.path(file));
    QTRY_COMPARE(saved.count(), 1);
    QVERIFY(saved[0][1].toBool());
    const QImage still(w.path(file));
    QCOMPARE(still.size(), QSize(96, 64));
    QCOMPARE(qGray(still.pixel(1, 1)), 0x6c);
    QVERIFY(still.pixel(48, 32) != still.pixel(1, 1));
    // one that cannot be written is told, and the still stays
    w.page().window()->save("/nowhere/at/all.png");
    QTRY_COMPARE(saved.count(), 2);
    QVERIFY(!saved[1][1].toBool() && w.says().contains("all.png"));
  }

  void aStillCanBeStopped() {
    ShowingWork w;
    w.named<QSpinBox>("still width")->setValue(2000);
    w.named<QSpinBox>("still height")->setValue(2000);
    w.page().findChild<ValueSlider*>("still samples")->show(1024);
    w.named<QPushButton>("make still")->click();
    QTest::qWait(300);
    QVERIFY(w.page().window()->running());
    w.page().window()->findChild<QPushButton*>("cancel still")->click();
    w.grown();
    QCOMPARE(w.says(), QString("Stopped"));
    QVERIFY(!w.page().window()->findChild<QPushButton*>("save still")->isVisible());
  }

  void lensAndBackdropBelongToTheLook() {
    ShowingWork w;
    w.named<QPushButton>("place focus")->click();
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, w.at({0, 0, 10}));
    w.named<QPushButton>("place done")->click();
    QVERIFY(w.easel().focus().sharp);
    QVERIFY((*w.easel().focus().sharp - Vec3(0, 0, 13)).norm() < 4);
    auto* opening = w.page().findChild<ValueSlider*>("aperture");
    emit opening->changed(0.5);
    const float aperture = w.easel().focus().aperture;
    QVERIFY(aperture > 4 && aperture < 6);
    w.named<QPushButton>("backdrop Fade")->click();
    w.named<QCheckBox>("ground")->click();
    QVERIFY(w.easel().backdrop().kind == BackdropKind::Gradient && w.easel().backdrop().ground);
    w.trigger("Shift+K");
    const Look kept = w.document().cameras.back().look;
    QCOMPARE(kept.focus.aperture, aperture);
    QVERIFY(kept.backdrop == w.easel().backdrop());
    // and to the file
    const auto file = w.folder() / "kept.juvenor";
    QVERIFY(w.window.saveTo(w.path(file)));
    w.easel().setBackdrop({});
    w.easel().setFocusOf({});
    QVERIFY(w.window.openFile(w.path(file)));
    w.settle();
    QVERIFY(w.easel().backdrop() == kept.backdrop);
    QVERIFY(w.easel().focus() == kept.focus);
  }

  void filmsSheetsAndPassesAreWritten() {
    ShowingWork w;
    w.small(2);
    w.easel().setView(View::Clay);
    w.page().findChild<ValueSlider*>("film seconds")->show(1);
    w.named<QPushButton>("film speed 24")->click();
    QVERIFY(w.named<QLabel>("film says")->text().startsWith("24 pictures"));
    w.page().makeFilm(w.path(w.folder() / "turn.webm"));
    w.grown();
    QProcess probe;
    probe.start("ffprobe",
                {"-v", "error", "-count_frames", "-show_entries", "stream=codec_name,nb_read_frames", "-of",
                 "csv=p=0", w.path(w.folder() / "turn.webm")});
    probe.waitForFinished();
    QCOMPARE(probe.readAllStandardOutput().trimmed(), QByteArray("vp9,24"));
    QCOMPARE(w.page().window()->shown().picture().size(), QSize(96, 64));
    // a flight takes two cameras
    w.named<QPushButton>("film motion Flight")->click();
    QVERIFY(w.named<QLabel>("film says")->text().contains("two"));
    w.trigger("Shift+K");
    w.page().makeSheet(ShowPage::Of::Cameras, w.path(w.folder() / "sheet.png"));
    w.grown();
    QVERIFY(QImage(w.path(w.folder() / "sheet.png")).width() > 600);
    w.page().makePasses(w.path(w.folder() / "passes.exr"));
    w.grown();
    QVERIFY2(std::filesystem::file_size(w.folder() / "passes.exr") > 1000, qPrintable(w.says()));
    w.page().makePasses("/nowhere/passes.exr");
    w.grown();
    QVERIFY2(w.says().contains("nowhere"), qPrintable(w.says()));
  }
};

JUVENOR_TEST(TestShowWindow)

}  // namespace juvenor::app

#include "test_show_window.moc"
