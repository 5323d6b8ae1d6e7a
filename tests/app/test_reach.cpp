// What a hand without a mouse and an ear without a screen need: work is closed and opened by keys, what
// cannot be done is disabled, and every control that takes the focus says what it is.
#include <QAbstractButton>
#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QComboBox>
#include <QLineEdit>
#include <QMenuBar>
#include <QSettings>
#include <QStackedWidget>

#include "driven_window.h"

namespace juvenor::app {
namespace {

QAction* actionOf(const QWidget& window, const QString& shortcut) {
  for (QAction* a : window.findChildren<QAction*>())
    if (a->shortcut() == QKeySequence(shortcut)) return a;
  return nullptr;
}

}  // namespace

class TestReach : public QObject {
  Q_OBJECT
 private slots:
  void whatNeedsWorkWaitsForIt() {
    test::DrivenWindow w;
    for (const char* key : {"Ctrl+S", "Ctrl+Shift+S", "Ctrl+E", "Ctrl+W", "Ctrl+Z", "Ctrl+L", "Ctrl+R",
                            "Ctrl+D", "Home", "5"}) {
      QAction* action = actionOf(w.window, key);
      QVERIFY2(action && !action->isEnabled(), key);
    }
    for (const char* key : {"Ctrl+O", "Ctrl+N", "Ctrl+Q", "F1", "F11"}) {
      QAction* action = actionOf(w.window, key);
      QVERIFY2(action && action->isEnabled(), key);
    }
    const auto file = w.folder() / "x.obj";
    QVERIFY(writeSculpt(file, test::sphere(20, 10), {}));
    QVERIFY(w.window.openFile(test::DrivenWindow::path(file)));
    QVERIFY(actionOf(w.window, "Ctrl+S")->isEnabled() && actionOf(w.window, "5")->isEnabled());
  }

  void workIsClosedAndOtherWorkOpened() {
    test::DrivenWindow w(test::sphere(20, 10));
    QVERIFY(w.window.saveTo(test::DrivenWindow::path(w.folder() / "own.juvenor")));
    w.session().tools().setTool(Tool::Airbrush);
    // every page was looked at, and has something to lose
    for (const auto page : {SideColumn::Page::Past, SideColumn::Page::Board, SideColumn::Page::Parts,
                            SideColumn::Page::Layer, SideColumn::Page::Stage}) {
      w.window.side().show(page);
      w.settle();
    }
    w.key(Qt::Key_W, Qt::ControlModifier);
    QVERIFY(!w.session().isOpen());
    QVERIFY(!w.easel().isVisible());
    QVERIFY(!actionOf(w.window, "Ctrl+S")->isEnabled());
    QVERIFY(!w.window.windowTitle().contains("own"));
    // nothing that goes on by itself asks for work that is not there
    QTest::qWait(300);
    for (const Qt::Key key : {Qt::Key_A, Qt::Key_Z, Qt::Key_B, Qt::Key_5, Qt::Key_R})
      QTest::keyClick(&w.window, key);
    QVERIFY(w.window.openFile(test::DrivenWindow::path(w.folder() / "own.juvenor")));
    w.easel().setView(View::Flat);
    QVERIFY(w.session().isOpen() && w.easel().isVisible());
    QCOMPARE(w.wrongPixels(), 0);
  }

  void closingAsksForStrokesThatAreNotSaved() {
    test::DrivenWindow w(test::sphere(20, 10));
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    QTimer::singleShot(100, &w.window, [] {
      auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
      QVERIFY(box);
      box->reject();
    });
    w.key(Qt::Key_W, Qt::ControlModifier);
    QVERIFY(w.session().isOpen());
    QCOMPARE(w.document().layers.back()->name, std::string("Paint"));
  }

  void theWindowComesBackWhereItWas() {
    {
      test::DrivenWindow w;
      w.window.restorePlace();
      w.window.setGeometry(60, 50, 1301, 777);
      QCoreApplication::processEvents();
      w.window.close();
    }
    test::DrivenWindow w;
    w.window.restorePlace();
    QCoreApplication::processEvents();
    QCOMPARE(w.window.size(), QSize(1301, 777));
    QSettings().remove("window");
  }

  void everyControlSaysWhatItIs() {
    test::DrivenWindow w(test::sphere(20, 10));
    for (const SourceKind* kind : sourceKinds())
      w.session().apply(withSourceLayer(w.document(), std::string(kind->label), kind->stratum,
                                        kind->fresh(*w.document().surface, {0.5f, 0.4f, 0.3f})),
                        "Add");
    QStringList dumb;
    int controls = 0;
    const auto listen = [&](const QString& where) {
      for (QWidget* child : w.window.findChildren<QWidget*>()) {
        if (!child->isVisible() || !(child->focusPolicy() & Qt::TabFocus)) continue;
        QAccessibleInterface* spoken = QAccessible::queryAccessibleInterface(child);
        ++controls;
        const QString said = spoken ? spoken->text(QAccessible::Name) : QString();
        const bool lists = qobject_cast<QAbstractScrollArea*>(child) != nullptr;
        if (said.isEmpty() && !lists)
          dumb << where + ": " + child->metaObject()->className() + " " + child->objectName() + " " +
                      child->toolTip();
      }
    };
    for (const auto page : {SideColumn::Page::Stage, SideColumn::Page::Board, SideColumn::Page::Parts,
                            SideColumn::Page::Past}) {
      w.window.side().show(page);
      w.settle();
      listen(QString("page %1").arg(static_cast<int>(page)));
    }
    w.window.side().show(SideColumn::Page::Layer);
    for (const LayerPointer& layer : w.document().layers) {
      w.session().chooseLayer(layer->id);
      w.settle();
      listen(QString::fromStdString(layer->name));
    }
    dumb.removeDuplicates();
    QVERIFY2(controls > 100, qPrintable(QString::number(controls)));
    for (const QString& one : dumb) qWarning("%s", qPrintable(one));
    QVERIFY(dumb.isEmpty());
  }
};

JUVENOR_TEST(TestReach)
}  // namespace juvenor::app
#include "test_reach.moc"
