// Moments in the window: checkpoints kept, compared by a line across the easel, painted back from; steps with
// names and pictures.
#include <QLabel>
#include <QTreeWidget>

#include "app/moments/moment_list.h"
#include "app/moments/moment_pictures.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/surface/build/search.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

constexpr EncodedColor kFirstTone{0.8f, 0.5f, 0.4f}, kSecondTone{0.2f, 0.3f, 0.7f};

// A ball in one tone, kept, then another tone all over it.
struct Moments : DrivenWindow {
  Moments() : DrivenWindow(test::sphere(80, 10)) {
    window.side().show(SideColumn::Page::Past);
    easel().setView(View::Flat);  // no light to wait for
    const uint32_t id = document().activeLayer;
    session().apply(withFilled(document(), id, kFirstTone, 1), "Fill");
    key(Qt::Key_K, Qt::ControlModifier);
    session().apply(withFilled(document(), id, kSecondTone, 1), "Fill");
    settle();
  }
  QTreeWidget* checkpoints() { return named<QTreeWidget>("checkpoints"); }
  QTreeWidget* steps() { return named<QTreeWidget>("history"); }
  void click(const char* name) {
    QTest::mouseClick(named<QPushButton>(name), Qt::LeftButton);
    for (int i = 0; i < 500 && easel().split().checkpoint() != 0 && !easel().viewing().compared; ++i)
      QTest::qWait(10);
    settleFully();
  }
  // Is a pixel of the easel, left (−1…1 of the ball's radius) of its middle, redder than it is blue?
  bool warm(float x) {
    const QPoint p = at({10 * x * 0.9f, 0, 10 * std::sqrt(1 - 0.81f * x * x)});
    const QColor c = picture().pixelColor(p);
    return c.red() > c.blue();
  }
};

}  // namespace

class TestMomentsWindow : public QObject {
  Q_OBJECT
 private slots:
  void aCheckpointIsKeptAndListed() {
    Moments w;
    QCOMPARE(w.document().checkpoints.size(), size_t{1});
    QCOMPARE(w.checkpoints()->topLevelItemCount(), 1);
    QTreeWidgetItem* row = w.checkpoints()->topLevelItem(0);
    QCOMPARE(row->text(0), QString("Checkpoint 1"));
    QVERIFY(!row->data(0, kDetail).toString().isEmpty());
    row->setText(0, "Warm tones");
    QCoreApplication::processEvents();
    QCOMPARE(w.document().checkpoints[0].name, std::string("Warm tones"));
    QCOMPARE(w.session().history().steps().back()->name, std::string("Name checkpoint"));
  }
  void theLineDividesThenFromNow() {
    Moments w;
    QVERIFY(!w.warm(-0.5f) && !w.warm(0.5f));
    w.click("compare checkpoint");
    QVERIFY(w.warm(-0.5f) && !w.warm(0.5f));
    const int right = w.easel().width() * 9 / 10;
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, {w.easel().width() / 2, 300});
    QMouseEvent move(QEvent::MouseMove, QPoint(right, 300), w.easel().mapToGlobal(QPoint(right, 300)),
                     Qt::NoButton, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&w.easel(), &move);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, {right, 300});
    w.settle();
    QVERIFY(w.warm(-0.5f) && w.warm(0.5f));
    // nothing was painted by it
    QCOMPARE(w.session().history().steps().back()->name, std::string("Fill"));
    w.key(Qt::Key_Q, Qt::ShiftModifier);
    QVERIFY(w.easel().split().flipped() && w.warm(0.9f));
    w.key(Qt::Key_Q, Qt::ShiftModifier);
    w.click("compare checkpoint");
    QVERIFY(!w.warm(-0.5f) && !w.warm(0.5f));
    QCOMPARE(w.wrongPixels(), 0);
  }
  void thePenPaintsBackAndWhatIsComparedStays() {
    Moments w;
    w.click("compare checkpoint");
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1, b.hardness = 0.9f; });
    w.key(Qt::Key_Q);
    QVERIFY(w.named<QPushButton>("restore checkpoint")->isChecked());
    const Vec3 place{5, 0, 8.66f};
    w.mouseStroke({w.at(place)});
    const Rgba16 back = w.colorNear(place), beside = w.colorNear({5, 6, 6});
    QVERIFY(std::abs(from16(back.r) - kFirstTone.r) < 0.01f);
    QVERIFY(std::abs(from16(beside.r) - kSecondTone.r) < 0.01f);
    QCOMPARE(w.session().history().steps().back()->name.substr(0, 7), std::string("Restore"));
    QVERIFY(w.easel().viewing().compared);
  }
  // the checkpoint had no mask: what is painted back shows all of the layer again
  void thePenPaintsAMaskBack() {
    Moments w;
    const uint32_t id = w.document().activeLayer;
    w.session().apply(withMaskFilled(*withMask(w.document(), id), id, 0, 1, kNone), "Hide");
    w.settle();
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1, b.hardness = 0.9f; });
    w.click("restore mask");
    QVERIFY(w.session().tools().tool() == Tool::Restore);
    const ColorField paint = w.painted();
    const Vec3 place{5, 0, 8.66f};
    w.mouseStroke({w.at(place)});
    QCOMPARE(w.session().history().steps().back()->name, std::string("Restore mask"));
    const ScalarField& mask = *w.active()->mask;
    const auto shown = [&](const Vec3& p) { return mask.at(*nearestSample(*w.document().surface, p, 2))[0]; };
    QVERIFY2(shown(place) > 64000, qPrintable(QString::number(shown(place))));
    QCOMPARE(shown({-5, 0, 8.66f}), uint16_t{0});
    QVERIFY(test::sameValues(w.painted(), paint));
  }
  void withoutACheckpointThePenSaysWhy() {
    DrivenWindow w(test::sphere(40, 10));
    w.key(Qt::Key_Q);
    w.mouseStroke({w.at({0, 0, 10})});
    QVERIFY(w.named<QLabel>("message")->text().contains("checkpoint"));
    QCOMPARE(w.session().history().current(), size_t{0});
    QVERIFY(!w.named<QPushButton>("compare checkpoint")->isEnabled());
  }
  void forgettingTheComparedOneEndsComparing() {
    Moments w;
    w.click("compare checkpoint");
    w.session().apply(withoutCheckpoint(w.document(), w.document().checkpoints[0].id), "Forget checkpoint");
    w.settle();
    QCOMPARE(w.easel().split().checkpoint(), 0u);
    QVERIFY(!w.named<QPushButton>("compare checkpoint")->isChecked());
    QVERIFY(!w.warm(-0.5f));
    w.window.undo();
    w.settle();
    QCOMPARE(w.checkpoints()->topLevelItemCount(), 1);
  }
  void aStepIsNamedAndTheFileKnows() {
    Moments w;
    const auto file = w.folder() / "named.juvenor";
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    QVERIFY(!w.session().unsaved());
    w.steps()->topLevelItem(1)->setText(0, "All warm");
    QCoreApplication::processEvents();
    QCOMPARE(w.session().history().steps()[1]->given, std::string("All warm"));
    QVERIFY(w.session().unsaved());
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    const auto read = Store::open(file)->read();
    QCOMPARE(read->steps[1]->given, std::string("All warm"));
  }
  void rowsGetPictures() {
    Moments w;
    QTRY_VERIFY_WITH_TIMEOUT(!w.steps()->topLevelItem(2)->icon(0).isNull(), 5000);
    const auto middle = [&](int row) {
      return w.steps()->topLevelItem(row)->icon(0).pixmap(kMomentWide, kMomentHigh).toImage();
    };
    const auto warm = [](const QImage& i) {
      const QColor c = i.pixelColor(i.width() / 2, i.height() / 2);
      return c.red() > c.blue() + 30;
    };
    QTRY_VERIFY_WITH_TIMEOUT(warm(middle(1)), 5000);
    QTRY_VERIFY_WITH_TIMEOUT(
        middle(w.steps()->topLevelItemCount() - 1).pixelColor(kMomentWide / 2, kMomentHigh / 2).blue() > 100,
        5000);
  }
};
JUVENOR_TEST(TestMomentsWindow)

}  // namespace juvenor::app
#include "test_moments_window.moc"
