// Carrying over in the window: what comes of it is shown and told before it is taken; pins and pairs of parts
// change it; one undo brings the old sculpt back.
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>

#include "app/carry/carry_dialog.h"
#include "core/document/edits/edits.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

Sculpt other() {
  Sculpt eye = test::sphere(30, 2, {0, 0, 11});
  eye.parts = {"Eye"};
  return test::together(test::sphere(70, 10), eye);
}

struct Carried : DrivenWindow {
  Carried() : DrivenWindow(test::twoParts()) {
    session().apply(withPaintedLayer(document(), "Red", Stratum::Pigment), "Layer");
    window.activateWindow();
    settle();
  }
  // Opens the dialog and does something in it.
  void carry(const Sculpt& sculpt, const std::function<void(CarryDialog&)>& act) {
    const auto file = folder() / "other.obj";
    (void)writeSculpt(file, sculpt, {});
    bool seen = false;
    // until it is there: reading the file runs a loop of its own first
    QTimer looks;
    looks.setInterval(30);
    QObject::connect(&looks, &QTimer::timeout, &window, [&] {
      auto* dialog = window.findChild<CarryDialog*>("carry");
      if (!dialog || !dialog->isVisible() || seen) return;
      seen = true;
      looks.stop();
      act(*dialog);
      if (dialog->isVisible()) dialog->reject();
    });
    looks.start();
    window.carryOverTo(path(file));
    QVERIFY(seen);
    settle();
  }
};

template <class Widget>
Widget* in(CarryDialog& dialog, const char* name) {
  return dialog.findChild<Widget*>(name);
}

void await(const std::function<bool()>& done) {
  QVERIFY(QTest::qWaitFor(done, 60'000));
}

QString textOf(CarryDialog& dialog, const char* name) {
  return in<QLabel>(dialog, name)->text();
}

}  // namespace

class TestCarryWindow : public QObject {
  Q_OBJECT
 private slots:
  void oneStepAndBack() {
    Carried w;
    w.chooseColor({0.8f, 0.1f, 0.1f});
    w.setBrush([](Brush& b) { b.flow = 1; });
    w.mouseStroke({w.at({0, 4, 9.2f}), w.at({2, 4, 9})});
    const auto before = w.document().surface;
    const size_t steps = w.session().history().steps().size();
    w.carry(other(), [&](CarryDialog& dialog) {
      auto* accept = in<QPushButton>(dialog, "carry over");
      await([&] { return accept->isEnabled(); });
      QVERIFY(textOf(dialog, "outcome").contains("% sure"));
      QVERIFY(in<QComboBox>(dialog, "skin of Eye")->itemText(0).contains("Eye"));
      // both are drawn
      for (const char* name : {"old sculpt", "new sculpt"})
        await([&] { return in<CarryView>(dialog, name)->settled(); });
      const QImage colours = in<CarryView>(dialog, "new sculpt")->grab().toImage();
      in<QCheckBox>(dialog, "doubt")->click();
      await([&] { return in<CarryView>(dialog, "new sculpt")->settled(); });
      QVERIFY(in<CarryView>(dialog, "new sculpt")->grab().toImage() != colours);
      QTest::mouseClick(accept, Qt::LeftButton);
    });
    w.awaitBackground();
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    QVERIFY(w.document().surface != before);
    QVERIFY(w.document().shape != 0);
    QVERIFY(w.document().doubt);
    QVERIFY(w.colorNear({0, 4, 9.2f}).a > 20'000);
    QCOMPARE(w.wrongPixels(), 0);
    // one paints on
    w.mouseStroke({w.at({-3, -2, 9.2f}), w.at({-1, -2, 9.6f})});
    QVERIFY(w.colorNear({-2, -2, 9.4f}).a > 20'000);
    w.window.undo();
    w.window.undo();
    w.settle();
    QVERIFY(w.document().surface == before);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void pinsAndPartsAreFittedAgain() {
    Carried w;
    const auto before = w.document().surface;
    w.carry(other(), [&](CarryDialog& dialog) {
      auto *accept = in<QPushButton>(dialog, "carry over"), *again = in<QPushButton>(dialog, "fit again");
      await([&] { return accept->isEnabled(); });
      QVERIFY(!again->isEnabled());
      auto *old = in<CarryView>(dialog, "old sculpt"), *fresh = in<CarryView>(dialog, "new sculpt");
      await([&] { return old->settled() && fresh->settled(); });
      QTest::mouseClick(old, Qt::LeftButton, {}, old->rect().center());
      QVERIFY(textOf(dialog, "pins").contains("Pin 1"));
      QTest::mouseClick(fresh, Qt::LeftButton, {}, fresh->rect().center());
      QVERIFY(!textOf(dialog, "pins").contains("Pin 1"));
      QVERIFY(!accept->isEnabled());
      QVERIFY(again->isEnabled());
      auto* eye = in<QComboBox>(dialog, "skin of Eye");
      eye->setCurrentIndex(1);
      emit eye->activated(1);
      QTest::mouseClick(again, Qt::LeftButton);
      await([&] { return accept->isEnabled(); });
      QVERIFY(textOf(dialog, "left behind").contains("Eye"));
      // a drag turns both
      const QImage was = old->grab().toImage();
      QTest::mousePress(fresh, Qt::LeftButton, {}, QPoint(100, 100));
      QMouseEvent move(QEvent::MouseMove, QPointF(220, 120), fresh->mapToGlobal(QPointF(220, 120)),
                       Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(fresh, &move);
      QTest::mouseRelease(fresh, Qt::LeftButton, {}, QPoint(220, 120));
      await([&] { return old->settled() && fresh->settled(); });
      QVERIFY(old->grab().toImage() != was);
      in<QPushButton>(dialog, "take pin back")->click();
      QVERIFY(textOf(dialog, "pins").contains("Pin 1"));
      in<QPushButton>(dialog, "no pins")->click();
    });
    // it was not taken
    QVERIFY(w.document().surface == before);
  }
  void aPartGoesOutAlone() {
    Carried w;
    const auto file = w.folder() / "eye.ply";
    QTimer looks;
    QObject::connect(&looks, &QTimer::timeout, &w.window, [&] {
      auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
      if (!dialog) return;
      looks.stop();
      dialog->findChild<QLineEdit*>()->setText(DrivenWindow::path(file));
      QTest::keyClick(dialog->findChild<QLineEdit*>(), Qt::Key_Return);
    });
    looks.start(50);
    emit w.window.side().partWanted(1);
    w.settle();
    const auto alone = readSculpt(file);
    QVERIFY2(alone, alone ? "" : alone.error().what.c_str());
    QCOMPARE(alone->vertices.size(), test::sphere(24, 2).vertices.size());
    for (const Vec3& v : alone->vertices) QVERIFY(v.z() > 8.9f);
  }
  void whatDoesNotFitIsTold() {
    Carried w;
    w.carry(test::plane(20, 3000), [&](CarryDialog& dialog) {
      await([&] { return textOf(dialog, "outcome").contains("Nothing was carried"); });
      QVERIFY(!in<QPushButton>(dialog, "carry over")->isEnabled());
      // it is seen all the same, so that pins can be put on it
      await([&] { return in<CarryView>(dialog, "new sculpt")->settled(); });
      QTest::mouseClick(in<CarryView>(dialog, "new sculpt"), Qt::LeftButton, {},
                        in<CarryView>(dialog, "new sculpt")->rect().center());
      QVERIFY(in<QPushButton>(dialog, "fit again")->isEnabled());
    });
    QVERIFY(!w.document().doubt);
  }
};

JUVENOR_TEST(TestCarryWindow)

}  // namespace juvenor::app

#include "test_carry_window.moc"
