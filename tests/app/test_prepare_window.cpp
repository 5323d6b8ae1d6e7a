// The Prepare stage in the window: a sculpt lands there, its rows tell what is so, their buttons mend it; a
// document opens at the stage it was left at.
#include <QLabel>

#include "app/controls/value_slider.h"
#include "app/course/course.h"
#include "app/session/stages.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;
using State = PrepareRow::State;

// Two balls as one part, aside of x = 0.
Sculpt looseBalls() {
  Sculpt two = test::together(test::sphere(24, 60, {5, 0, 0}), test::sphere(12, 12, {5, 90, 0}));
  std::ranges::fill(two.polygonPart, 0u);
  two.parts.resize(1);
  return two;
}

struct Preparing : DrivenWindow {
  explicit Preparing(const Sculpt& sculpt) : DrivenWindow(sculpt) { looked(); }
  PreparePage& page() { return window.side().stage().prepare(); }
  PrepareRow& row(const char* name) {
    return *page().findChild<PrepareRow*>(QString("prepare %1").arg(name));
  }
  QString said(const char* name) { return row(name).findChildren<QLabel*>().back()->text(); }
  void mend(const char* name) {
    auto* button = page().findChild<QPushButton*>(QString("mend %1").arg(name));
    QTest::mouseClick(button, Qt::LeftButton);
    looked();
  }
  void looked() {
    for (int i = 0; i < 1000 && row("parts").state() == State::Unknown; ++i) QTest::qWait(10);
    QTest::qWait(200);
    awaitBackground();
  }
};

}  // namespace

class TestPrepareWindow : public QObject {
  Q_OBJECT
 private slots:
  void aSculptLandsThere() {
    Preparing w(looseBalls());
    QCOMPARE(w.session().tools().stage(), static_cast<int>(kPrepareStage));
    QVERIFY(w.page().isVisible());
    QVERIFY(w.row("stands").state() == State::Well);
    QVERIFY2(w.said("stands").contains("162"), qPrintable(w.said("stands")));
    QVERIFY(w.row("points").state() == State::Open);
    QVERIFY(w.row("parts").state() == State::Open);
    QVERIFY2(w.said("parts").contains("2"), qPrintable(w.said("parts")));
    QVERIFY(w.row("squares").state() == State::Open);
    QVERIFY(w.row("mirror").state() == State::Open);
    QVERIFY(w.row("board").state() == State::Open);
    QVERIFY(w.row("light").state() == State::Well);
    QVERIFY(w.page().unmended());
  }
  void buttonsMend() {
    Preparing w(looseBalls());
    w.mend("mirror");
    QVERIFY2(std::abs(w.document().mirror.offset - 5) < 0.5f,
             qPrintable(QString::number(w.document().mirror.offset)));
    QTRY_VERIFY_WITH_TIMEOUT(w.row("mirror").state() == State::Well, 20000);
    w.mend("parts");
    QCOMPARE(w.document().sculpt->parts.size(), size_t{2});
    QTRY_VERIFY_WITH_TIMEOUT(w.row("parts").state() == State::Well, 20000);
    Light red = w.easel().viewing().light;
    red.kind = LightKind::Lamps;
    red.exposure = 1;
    w.easel().setLight(red);
    QVERIFY(w.row("light").state() == State::Open);
    w.mend("light");
    QVERIFY(w.easel().viewing().light.kind == LightKind::Overcast);
    QVERIFY(w.row("light").state() == State::Well);
    w.window.undo();
    w.settle();
    QCOMPARE(w.document().sculpt->parts.size(), size_t{1});
    QTRY_VERIFY_WITH_TIMEOUT(w.row("parts").state() == State::Open, 20000);
  }
  void theFinestThingSaysHowManyPoints() {
    Preparing w(looseBalls());
    auto* finest = w.named<ValueSlider>("finest thing");
    const QString before = w.said("points");
    finest->show(0.2);
    emit finest->changed(0.2);
    QVERIFY(w.said("points") != before);
    QVERIFY2(w.said("points").contains("Pores") && w.said("points").contains("0.1"),
             qPrintable(w.said("points")));
    // what lies close enough for broad things is told by its number
    finest->show(60);
    emit finest->changed(60);
    QVERIFY2(w.said("points").contains("points"), qPrintable(w.said("points")));
  }
  void oneBeginsFromThere() {
    Preparing w(looseBalls());
    QTest::mouseClick(w.named<QPushButton>("begin pattern"), Qt::LeftButton);
    QCOMPARE(w.session().tools().stage(), static_cast<int>(kPatternStage));
    goToStage(w.session(), kPrepareStage);
    QTest::mouseClick(w.named<QPushButton>("begin values"), Qt::LeftButton);
    QCOMPARE(w.session().tools().stage(), static_cast<int>(kBaseStage));
    QVERIFY(w.easel().viewing().view == View::Value);
  }
  void patternsGrowByAClick() {
    Preparing w(test::sphere(40, 60));
    goToStage(w.session(), kPatternStage);
    auto* comb = w.named<QPushButton>("comb pattern");
    QVERIFY(!comb->isEnabled());
    const size_t before = w.document().layers.size();
    QTest::mouseClick(w.named<QToolButton>("grow bands"), Qt::LeftButton);
    w.awaitBackground();
    QCOMPARE(w.document().layers.size(), before + 1);
    QCOMPARE(std::string(w.active()->source->kind().key), std::string("bands"));
    QVERIFY(comb->isEnabled());
    w.window.side().show(SideColumn::Page::Stage);
    QTest::mouseClick(comb, Qt::LeftButton);
    QVERIFY(w.session().tools().tool() == Tool::Comb);
    w.window.undo();
    QVERIFY(!comb->isEnabled());
  }
  void aDocumentOpensWhereItWasLeft() {
    Preparing w(looseBalls());
    const QString file = DrivenWindow::path(w.folder() / "left.juvenor");
    goToStage(w.session(), kPhotoStage);
    QVERIFY(w.window.saveTo(file));
    goToStage(w.session(), kZonesStage);
    QVERIFY(w.window.openFile(file));
    w.settle();
    QCOMPARE(w.session().tools().stage(), static_cast<int>(kPhotoStage));
    for (int stage = kPrepareStage; stage <= kFinishStage; ++stage)
      QCOMPARE(stageFromKey(stageKey(stage)), stage);
    QCOMPARE(stageFromKey("nowhere"), static_cast<int>(kBaseStage));
  }
};

JUVENOR_TEST(TestPrepareWindow)

}  // namespace juvenor::app

#include "test_prepare_window.moc"
