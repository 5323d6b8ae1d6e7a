// Stepping back in the window: the strip follows the work, waits while one paints, and a press makes a
// picture large.
#include <QComboBox>
#include <QLabel>

#include "app/stepback/step_back_strip.h"
#include "core/document/edits/edits.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

struct SteppingBack : test::DrivenWindow {
  SteppingBack() : DrivenWindow(test::twoParts()) {
    toggle();
    looked();
  }
  StepBackStrip& strip() { return window.stepBack(); }
  void toggle() {
    for (QAction* a : window.findChildren<QAction*>())
      if (a->shortcut() == QKeySequence("Shift+A")) a->trigger();
  }
  void looked() {
    settle();
    QTRY_VERIFY_WITH_TIMEOUT(strip().upToDate() && !strip().picture(StepBackStrip::Eye).isNull(), 20000);
  }
};

// Part of a picture that is nearly black, from the left or the right edge of it alone.
double dark(const QImage& picture) {
  int count = 0;
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) count += qGray(picture.pixel(x, y)) < 60;
  return static_cast<double>(count) / (picture.width() * picture.height());
}

}  // namespace

class TestStepBackWindow : public QObject {
  Q_OBJECT
 private slots:
  void itIsThereWhenItIsWanted() {
    test::DrivenWindow plain(test::twoParts());
    QVERIFY(!plain.window.stepBack().isVisible());
    SteppingBack w;
    QVERIFY(w.strip().isVisible());
    QCOMPARE(w.strip().width(), 120);
    QVERIFY(w.strip().x() < w.easel().mapTo(&w.window, QPoint()).x());
    w.toggle();
    QVERIFY(!w.strip().isVisible());
  }
  void theOutlineCoversWhatTheSculptDoes() {
    SteppingBack w;
    const QImage outline = w.strip().picture(StepBackStrip::Outline);
    const QImage easel = w.easel().pictureNow();
    int covered = 0;
    for (int y = 0; y < easel.height(); ++y)
      for (int x = 0; x < easel.width(); ++x) covered += (easel.pixel(x, y) & 0xffffff) != 0x6c6c6c;
    const double part = static_cast<double>(covered) / (easel.width() * easel.height());
    QVERIFY2(std::abs(dark(outline) - part) < 0.02,
             qPrintable(QString("%1 %2").arg(dark(outline)).arg(part)));
    const QImage far = w.strip().picture(StepBackStrip::Far);
    QCOMPARE(std::max(far.width(), far.height()), 48);
  }
  void itFollowsTheWork() {
    SteppingBack w;
    const QImage before = w.strip().picture(StepBackStrip::Flipped);
    w.chooseColor({0.1f, 0.1f, 0.4f});
    w.mouseStroke({w.at({-6, 4, 7}), w.at({-2, 4, 9})});
    w.looked();
    const QImage after = w.strip().picture(StepBackStrip::Flipped);
    QVERIFY(before != after);
    QVERIFY(after == w.easel().pictureNow().mirrored(true, false));
    // the only mark on an even skin is what the eye goes to
    auto* first = w.named<QLabel>("eye goes first");
    QVERIFY2(first->text().contains("Sphere") ||
                 first->text().contains(QString::fromStdString(w.document().sculpt->parts[0])),
             qPrintable(first->text()));
  }
  void aPressMakesOneLarge() {
    SteppingBack w;
    auto* large = w.named<QLabel>("held large");
    QVERIFY(!large->isVisible());
    auto* button = w.named<QToolButton>("step back 0");
    QTest::mousePress(button, Qt::LeftButton);
    QVERIFY(large->isVisible());
    QCOMPARE(large->size(), w.easel().size());
    QTest::mouseRelease(button, Qt::LeftButton);
    QVERIFY(!large->isVisible());
  }

  // The page tells whether what is meant to draw the eye does.
  void whatShouldDrawTheEyeIsRanked() {
    SteppingBack w;
    FinishPages& finish = w.window.side().stage().finish();
    w.window.side().show(SideColumn::Page::Stage);
    w.session().tools().setStage(kFinishStage);
    finish.goTo(FinishPages::Page::StepBack);
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Paint");
    w.chooseColor({0.9f, 0.1f, 0.1f});
    // a red dot on the eye alone
    w.session().apply(
        withFilled(w.document(), w.document().activeLayer, EncodedColor{0.9f, 0.1f, 0.1f}, 1, 1), "Red eye");
    w.looked();
    auto* meant = w.named<QComboBox>("eye meant");
    QTRY_VERIFY(meant->count() == 3);
    const QString first = w.named<QLabel>("eye says")->text();
    QVERIFY(first.startsWith("First:"));
    for (int i = 1; i < 3; ++i) {
      meant->setCurrentIndex(i);
      emit meant->activated(i);
      const QString told = w.named<QLabel>("eye rank")->text();
      QVERIFY2(told.contains(meant->currentText()), qPrintable(told));
      QCOMPARE(told.contains("most"), first.contains(meant->currentText()));
    }
  }
};

JUVENOR_TEST(TestStepBackWindow)

}  // namespace juvenor::app

#include "test_step_back_window.moc"
