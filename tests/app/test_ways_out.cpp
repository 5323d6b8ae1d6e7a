// Nothing is lost and nothing sticks: a document that was moved away, work that lands while other work is
// under way, looking that is no step, and the buttons that help out where something cannot be.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSignalSpy>
#include <QThread>
#include <QTreeWidget>
#include <QWheelEvent>

#include "app/controls/value_slider.h"
#include "app/session/history_memory.h"
#include "app/session/job.h"
#include "core/brush/made_stamps.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/layers/sources/fill.h"
#include "core/photo/picture_file.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

struct Waiting : DrivenWindow {
  Waiting() : DrivenWindow(test::sphere(60, 10)) {
    setBrush([](Brush& b) { b.radius = 2; });
  }
  void stroke() { mouseStroke({at({-2, 0, 9.8f}), at({2, 0, 9.8f})}); }
  size_t step() { return session().history().current(); }
  QString message() { return named<QLabel>("message")->text(); }
};

}  // namespace

class TestWaysOut : public QObject {
  Q_OBJECT
 private slots:
  void aDocumentThatWasMovedAwayIsSavedAgainOrElsewhere() {
    Waiting w;
    const auto file = w.folder() / "work.juvenor", moved = w.folder() / "moved.juvenor";
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    w.stroke();
    std::filesystem::rename(file, moved);
    w.answerWith("Not now");
    QVERIFY(!w.window.saveTo(DrivenWindow::path(file)));
    QVERIFY2(w.said.contains("not where it was"), qPrintable(w.said));
    QVERIFY(w.session().unsaved() && !std::filesystem::exists(file));
    w.answerWith("Save it there again");
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    QVERIFY(!w.session().unsaved());
    QCOMPARE(Store::open(file, true)->stepIds()->size(), w.session().history().steps().size());
    // the one that was moved is as it was
    QCOMPARE(Store::open(moved, true)->stepIds()->size(), w.session().history().steps().size() - 1);
    // and from then on saving is as ever
    w.stroke();
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
  }
  void anotherDocumentInItsPlaceIsNotWrittenOver() {
    Waiting w;
    const auto file = w.folder() / "work.juvenor";
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    w.stroke();
    const History other(test::documentOf(test::sphere(20, 3)), "Other");
    QVERIFY(saveAs(file, std::vector<StepPointer>{other.steps().front()}, other.steps().front()->id));
    w.answerWith("Not now");
    QVERIFY(!w.window.saveTo(DrivenWindow::path(file)));
    QVERIFY2(w.said.contains("changed by another program"), qPrintable(w.said));
    QCOMPARE(Store::open(file, true)->stepIds()->front(), other.steps().front()->id);
  }
  void aPlacedStampIsNotForgottenOnLeaving() {
    Waiting w;
    QVERIFY(w.window.saveTo(DrivenWindow::path(w.folder() / "work.juvenor")));
    w.session().tools().setTool(Tool::Stamp);
    w.easel().stampPlacing().take(madeStamp("nail"));
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, w.at({0, 0, 10}));
    QVERIFY(w.easel().stampPlacing().placing());
    const size_t before = w.step();
    w.answerWith("Stay");
    QVERIFY(!w.window.openFile(DrivenWindow::path(w.folder() / "work.juvenor")));
    QVERIFY2(w.said.contains("stamp"), qPrintable(w.said));
    QVERIFY(w.easel().stampPlacing().placing());
    w.answerWith("Save");
    QVERIFY(w.window.openFile(DrivenWindow::path(w.folder() / "work.juvenor")));
    QCOMPARE(w.step(), before + 1);
  }
  // A stroke that cannot be says why, and what it takes is a press away.
  void aStrokeThatCannotBeOffersWhatItTakes() {
    Waiting w;
    w.session().apply(
        withSourceLayer(w.document(), "Tone", Stratum::Flesh, fillSource(EncodedColor{0.5f, 0.4f, 0.3f})),
        "Add layer");
    auto* offer = w.named<QPushButton>("offer");
    QVERIFY(!offer->isVisible());
    const size_t before = w.step();
    w.stroke();
    QCOMPARE(w.step(), before);
    QVERIFY(offer->isVisible() && w.message().contains("Tone"));
    QTest::mouseClick(offer, Qt::LeftButton);
    QVERIFY(!offer->isVisible());
    QVERIFY(w.active()->source->fields());
    w.stroke();
    QCOMPARE(w.step(), before + 2);
    LayerChange locked;
    locked.locked = true;
    w.session().apply(withLayerChanged(w.document(), w.document().activeLayer, locked), "Lock");
    w.stroke();
    QCOMPARE(w.step(), before + 3);
    QTest::mouseClick(offer, Qt::LeftButton);
    QVERIFY(!w.active()->locked);
  }
  void lookingAtAPictureIsNoStepAndCutsNothingOff() {
    Waiting w;
    std::vector<uint32_t> pixels(64 * 64, 0xff806040);
    QVERIFY(writePicture(w.folder() / "p.png", {64, 64}, pixels));
    w.window.side().show(SideColumn::Page::Board);
    w.window.side().board().add({DrivenWindow::path(w.folder() / "p.png")});
    w.awaitBackground();
    w.stroke();
    w.window.undo();
    const size_t steps = w.session().history().steps().size(), at = w.step();
    auto* view = w.window.findChild<QWidget*>("board picture");
    QVERIFY(view);
    const QPoint middle = view->rect().center();
    QWheelEvent wheel(middle, view->mapToGlobal(middle), {}, {0, 480}, Qt::NoButton, {}, Qt::NoScrollPhase,
                      false);
    QCoreApplication::sendEvent(view, &wheel);
    QTest::qWait(600);
    QCOMPARE(w.session().history().steps().size(), steps);
    QCOMPARE(w.step(), at);
    QVERIFY(w.document().board.front().nearer > 1.5f);
    // it stays looked at like that, whatever step one goes to, and the file keeps it with the next
    w.window.redo();
    QVERIFY(w.document().board.front().nearer > 1.5f);
    w.stroke();
    QVERIFY(w.session().history().document().board.front().nearer > 1.5f);
  }
  void whatTheNextChangeCutsOffCanBeKept() {
    Waiting w;
    w.window.side().show(SideColumn::Page::Past);
    w.stroke();
    const Document later = w.document();
    w.window.undo();
    w.settle();
    auto* keep = w.named<QPushButton>("keep later");
    QVERIFY(keep->isVisible());
    QVERIFY(w.named<QLabel>("later steps")->text().contains("1"));
    QTest::mouseClick(keep, Qt::LeftButton);
    w.settle();
    QVERIFY(!keep->isVisible());
    QCOMPARE(w.document().checkpoints.size(), size_t{1});
    const LayerPointer kept = keptOf(w.document().checkpoints[0], later.activeLayer);
    QVERIFY(kept && kept->source == layerOf(later, later.activeLayer)->source);
    // the work itself is as it was before
    QVERIFY(!w.painted().holdsAny());
  }
  void namingAnOldStepGoesNowhere() {
    Waiting w;
    w.window.side().show(SideColumn::Page::Past);
    w.stroke();
    w.session().fillNow();
    w.settle();
    const size_t at = w.step();
    auto* list = w.named<QTreeWidget>("history");
    list->setFocus();
    list->setCurrentItem(list->topLevelItem(0));
    QTest::keyClick(list, Qt::Key_F2);
    auto* line = list->findChild<QLineEdit*>();
    QVERIFY(line);
    line->setText("as it came");
    QTest::keyClick(line, Qt::Key_Return);
    w.settle();
    QCOMPARE(w.step(), at);
    QCOMPARE(w.session().history().steps().front()->given, std::string("as it came"));
  }
  // What lands while a job works out an edit is not written over by it.
  void anEditIsWorkedOutOfWhatIsThere() {
    Waiting w;
    int tries = 0;
    QTimer::singleShot(80, &w.window, [&] {
      w.session().apply(withFillLayer(w.document(), "Landed", Stratum::Flesh, {0.5f, 0.4f, 0.3f}), "Landed");
    });
    QVERIFY(w.session().edit("Slow", [&](const Document& d, const Progress&) -> Result<Document> {
      if (++tries == 1) QThread::msleep(300);
      return withFillLayer(d, "Worked out", Stratum::Pigment, {0.2f, 0.4f, 0.3f});
    }));
    QCOMPARE(tries, 2);
    const auto has = [&](const char* name) {
      return std::ranges::any_of(w.document().layers, [&](const LayerPointer& l) { return l->name == name; });
    };
    QVERIFY(has("Landed") && has("Worked out"));
  }
  // Escape stops the work, and its dialog stays as long as input is blocked.
  void escapeStopsAJobAsCancelDoes() {
    Waiting w;
    bool stayed = false;
    QTimer::singleShot(500, &w.window, [&] {
      QWidget* dialog = QApplication::activeModalWidget();
      if (!dialog) return;
      QTest::keyClick(dialog, Qt::Key_Escape);
      stayed = dialog->isVisible();
    });
    const auto done = runJobFor<Done>(&w.window, "Long", [](const Progress& p) -> Outcome {
      for (int i = 0; i < 400; ++i) {
        if (!report(p, 0.5f)) {
          QThread::msleep(50);
          return cancelledError();
        }
        QThread::msleep(10);
      }
      return Done{};
    });
    QVERIFY(!done && isCancelled(done.error()));
    QVERIFY(stayed);
    // what was cancelled is no failure
    w.session().tell(done.error());
    QVERIFY(w.message().contains("Cancelled"));
  }
  void aHandThatShakesTypesTheNumber() {
    ValueSlider slider("Size", {0, 100, 1, ""});
    slider.resize(200, 38);
    slider.show(40);
    slider.QWidget::show();
    QSignalSpy changed(&slider, &ValueSlider::changed);
    const auto move = [&](const QPoint& p) {
      QMouseEvent event(QEvent::MouseMove, p, slider.mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(&slider, &event);
    };
    QTest::mousePress(&slider, Qt::LeftButton, {}, {150, 8});
    move({153, 10});
    QTest::mouseRelease(&slider, Qt::LeftButton, {}, {153, 10});
    QTest::mouseDClick(&slider, Qt::LeftButton, {}, {152, 9});
    move({155, 9});
    QCOMPARE(changed.count(), 0);
    QVERIFY(slider.findChild<QLineEdit*>());
  }
  // Pressed, 0 changes the colours' places; held it gives them back; what was painted with is kept.
  void theSecondColourIsAKeyAway() {
    Waiting w;
    Tools& tools = w.session().tools();
    const EncodedColor first{0.8f, 0.3f, 0.2f};
    tools.setColor(first);
    const EncodedColor second = tools.secondColor();
    w.activate();
    QTest::keyClick(&w.window, Qt::Key_0);
    QVERIFY(tools.color() == second && tools.secondColor() == first);
    QTest::keyPress(&w.window, Qt::Key_0);
    QVERIFY(tools.color() == first);
    QTest::qWait(350);
    w.stroke();
    QTest::keyRelease(&w.window, Qt::Key_0);
    QVERIFY(tools.color() == second && tools.secondColor() == first);
    w.stroke();
    QCOMPARE(tools.usedColors().size(), size_t{2});
    QVERIFY(tools.usedColors()[0] == second && tools.usedColors()[1] == first);
  }
  void whatWasOpenedLatelyIsInTheFileMenu() {
    Waiting w;
    const QString file = DrivenWindow::path(w.folder() / "lately.juvenor");
    QVERIFY(w.window.saveTo(file));
    QMenu* recent = nullptr;
    for (QMenu* menu : w.window.findChildren<QMenu*>())
      if (menu->title() == "Open recent") recent = menu;
    QVERIFY(recent);
    emit recent->aboutToShow();
    QCOMPARE(recent->actions().front()->text(), QString("lately.juvenor"));
    recent->actions().front()->trigger();
    QCOMPARE(w.session().title(), QString("lately"));
    w.key(Qt::Key_F11);
    QVERIFY(w.window.isFullScreen());
    w.key(Qt::Key_F11);
    QVERIFY(!w.window.isFullScreen());
  }
  void pickTakesFromThePictureBehindToo() {
    Waiting w;
    QImage picture(64, 64, QImage::Format_RGB32);
    picture.fill(QColor(20, 140, 200));
    w.easel().setBehind(picture);
    w.settle();
    w.session().tools().setTool(Tool::Pick);
    const QPoint beside(w.easel().width() / 2 - w.easel().height() / 2 + 6, 30);
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, beside);
    QCOMPARE(QString::fromStdString(toHex(w.session().tools().color())), QString("#148cc8"));
  }
  void lessMemoryTakesEffectAtOnceAndNamedStepsAreTold() {
    Waiting w;
    w.session().callStep(0, "as it came");
    for (int i = 0; i < 6; ++i) {
      w.stroke();
      w.session().fillNow();
    }
    QVERIFY(historyBudget(25) > 4 * historyBudget(5));
    // so little that no history fits is no setting one can choose; the rule is the same
    History small = w.session().history();
    small.setBudget(1);
    QVERIFY(small.steps().size() <= 3);
    QCOMPARE(small.takeForgotten(), std::vector<std::string>{"as it came"});
    w.session().tellForgotten({"as it came"});
    QVERIFY2(w.message().contains("as it came"), qPrintable(w.message()));
  }
};

JUVENOR_TEST(TestWaysOut)
}  // namespace juvenor::app
#include "test_ways_out.moc"
