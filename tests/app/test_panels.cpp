// The panels around the easel: strata, mixer, strip, course, parts, as a hand uses them.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

#include "app/brush_strip/brush_strip.h"
#include "app/course/course.h"
#include "app/mixer/color_field.h"
#include "app/mixer/mixer.h"
#include "app/strata/strata.h"
#include "core/color/lab.h"
#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;

namespace {

std::vector<std::string> names(const Document& d) {
  std::vector<std::string> out;
  for (const LayerPointer& l : d.layers) out.push_back(l->name);
  return out;
}
using Names = std::vector<std::string>;

// A window with a fill in Flesh and two painted layers in Pigment, drawn once.
struct Layered : DrivenWindow {
  app::StrataRows* rows;

  Layered() : DrivenWindow(test::sphere(30, 10)) {
    session().apply(withFillLayer(document(), "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f}), "fill");
    session().apply(withPaintedLayer(document(), "Marks", Stratum::Pigment), "layer");
    rows = window.findChild<app::StrataRows*>();
    rows->grab();
  }
  // Rows from the top, at a place across them.
  QPoint row(int index, int x) {
    const LayerStack& layers = document().layers;
    return {x, rows->rectOf(layers[layers.size() - 1 - static_cast<size_t>(index)]->id).center().y()};
  }
  QPoint fleshRow(int x) { return row(static_cast<int>(document().layers.size()) - 1, x); }
};

}  // namespace

class TestPanels : public QObject {
  Q_OBJECT
 private slots:
  void strataShowChooseAndHide() {
    Layered w;
    QCOMPARE(names(w.document()), (Names{"Tone", "Paint", "Marks"}));
    QTest::mouseClick(w.rows, Qt::LeftButton, {}, w.row(1, 120));
    QCOMPARE(layerOf(w.document(), w.document().activeLayer)->name, std::string("Paint"));
    // choosing is no step of the work
    QCOMPARE(w.session().history().steps().size(), size_t{3});
    QTest::mouseClick(w.rows, Qt::LeftButton, {}, w.row(0, 24 + 14));
    QVERIFY(!w.document().layers[2]->visible);
    QTest::mouseClick(w.rows, Qt::LeftButton, {}, w.fleshRow(120));
    QCOMPARE(layerOf(w.document(), w.document().activeLayer)->name, std::string("Tone"));
  }
  void opacityIsDraggedAndTyped() {
    Layered w;
    const int right = w.rows->width() - 6;
    const QPoint bar = w.row(0, right - 66 + 29) + QPoint(0, 8);
    QTest::mousePress(w.rows, Qt::LeftButton, {}, bar);
    QTest::mouseRelease(w.rows, Qt::LeftButton, {}, bar);
    QVERIFY(std::abs(w.document().layers[2]->opacity - 0.5f) < 0.06f);
    QTest::mouseDClick(w.rows, Qt::LeftButton, {}, w.row(0, right - 30) - QPoint(0, 12));
    auto* edit = w.rows->findChild<QLineEdit*>();
    QVERIFY(edit != nullptr);
    edit->setText("26 %");
    QTest::keyClick(edit, Qt::Key_Return);
    QVERIFY(std::abs(w.document().layers[2]->opacity - 0.26f) < 1e-5f);
  }
  void layersAreRenamedAndDragged() {
    Layered w;
    QTest::mouseDClick(w.rows, Qt::LeftButton, {}, w.row(0, 110));
    auto* edit = w.rows->findChild<QLineEdit*>();
    QVERIFY(edit != nullptr);
    edit->setText("Scars");
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(names(w.document()).back(), std::string("Scars"));
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    // the upper of two goes below the lower one
    QTest::mousePress(w.rows, Qt::LeftButton, {}, w.row(0, 110));
    QMouseEvent move(QEvent::MouseMove, w.row(1, 110) + QPoint(0, 16), w.rows->mapToGlobal(w.row(1, 110)),
                     Qt::NoButton, Qt::LeftButton, {});
    QCoreApplication::sendEvent(w.rows, &move);
    QTest::mouseRelease(w.rows, Qt::LeftButton, {}, w.row(1, 110) + QPoint(0, 16));
    QCOMPARE(names(w.document()), (Names{"Tone", "Scars", "Paint"}));
    // and into another stratum
    QTest::mousePress(w.rows, Qt::LeftButton, {}, w.row(0, 110));
    QMouseEvent up(QEvent::MouseMove, QPoint(110, 30), w.rows->mapToGlobal(QPoint(110, 30)), Qt::NoButton,
                   Qt::LeftButton, {});
    QCoreApplication::sendEvent(w.rows, &up);
    QTest::mouseRelease(w.rows, Qt::LeftButton, {}, {110, 30});
    QVERIFY(w.document().layers.back()->stratum == Stratum::Surface &&
            w.document().layers.back()->name == "Paint");
  }
  void layersAreChosenByKeys() {
    Layered w;
    w.rows->setFocus();
    QTest::keyClick(w.rows, Qt::Key_Down);
    QCOMPARE(layerOf(w.document(), w.document().activeLayer)->name, std::string("Paint"));
    QTest::keyClick(w.rows, Qt::Key_Down);
    QCOMPARE(layerOf(w.document(), w.document().activeLayer)->name, std::string("Tone"));
    QTest::keyClick(w.rows, Qt::Key_Up);
    QTest::keyClick(w.rows, Qt::Key_Up);
    QCOMPARE(layerOf(w.document(), w.document().activeLayer)->name, std::string("Marks"));
  }
  // Of many layers the one that is gone to comes into view, and only then anything moves.
  void theActiveLayerComesIntoView() {
    Layered w;
    Document d = w.document();
    const uint32_t low = d.layers.front()->id;
    for (int i = 0; i < 25; ++i) d = withPaintedLayer(d, "Coat", Stratum::Surface);
    w.session().apply(d, "layers");
    const auto inView = [&] {
      const QRect shown = w.rows->visibleRegion().boundingRect(), active = w.rows->activeRect();
      return !active.isEmpty() && shown.contains(active);
    };
    QTRY_VERIFY(inView());
    w.session().chooseLayer(low);
    QTRY_VERIFY(inView());
    const int at = w.rows->y();
    w.session().apply(w.document(), "nothing");
    QTest::qWait(50);
    QCOMPARE(w.rows->y(), at);
  }
  void blendModesAreAllThere() {
    Layered w;
    auto* blend = w.window.findChild<app::Strata*>()->findChild<QComboBox*>();
    QCOMPARE(blend->count(), kBlendModeCount);
    blend->setCurrentIndex(static_cast<int>(BlendMode::Stain));
    emit blend->activated(static_cast<int>(BlendMode::Stain));
    QVERIFY(w.document().layers[2]->blend == BlendMode::Stain);
    w.session().fillNow();
    QCOMPARE(w.wrongPixels(), 0);
  }
  void theMixerTakesHexRgbAndTheField() {
    Layered w;
    auto* mixer = w.window.findChild<app::Mixer*>();
    auto* hex = w.named<QLineEdit>("hex");
    hex->setText("A77F5D");
    emit hex->editingFinished();
    QCOMPARE(toHex(w.session().tools().color()), std::string("#a77f5d"));
    hex->setText("no colour");
    emit hex->editingFinished();
    QCOMPARE(hex->text(), QString("#a77f5d"));
    const auto fields = mixer->findChildren<app::ColorField2D*>();
    QCOMPARE(fields.size(), qsizetype{2});
    QTest::mouseClick(fields[0], Qt::LeftButton, {}, {4, 48});
    const Lab grey = toLab(w.session().tools().color());
    QVERIFY(std::abs(grey.a) < 6 && std::abs(grey.b) < 6 && grey.l > 30 && grey.l < 70);
    const EncodedColor before = w.session().tools().color();
    fields[0]->setFocus();
    QTest::keyClick(fields[0], Qt::Key_Up);
    QVERIFY(toLab(w.session().tools().color()).l > toLab(before).l);
    QCOMPARE(w.session().tools().previousColor(), before);
  }
  void wellsAreKeptInTheDocument() {
    Layered w;
    auto* mixer = w.window.findChild<app::Mixer*>();
    const EncodedColor first = w.document().wells[0];
    const int span = (mixer->width() - 28) / 10;
    const QPoint well(14 + span / 2, mixer->height() - 24);
    QTest::mouseClick(mixer, Qt::LeftButton, {}, well);
    QCOMPARE(w.session().tools().color(), first);
    w.chooseColor({0.25f, 0.5f, 0.75f});
    QTest::mouseClick(mixer, Qt::RightButton, {}, well);
    QCOMPARE(w.document().wells[0], (EncodedColor{0.25f, 0.5f, 0.75f}));
    w.window.undo();
    QCOMPARE(w.document().wells[0], first);
  }
  void numbersOfTheStripAreDraggedSteppedAndTyped() {
    Layered w;
    app::ValueSlider* flow = nullptr;
    for (auto* s : w.window.findChildren<app::ValueSlider*>())
      if (s->accessibleName() == "Flow") flow = s;
    QVERIFY(flow != nullptr);
    QTest::mouseDClick(flow, Qt::LeftButton, {}, {flow->width() - 10, 6});
    auto* edit = flow->findChild<QLineEdit*>();
    QVERIFY(edit != nullptr);
    edit->setText("3,5 %");
    QTest::keyClick(edit, Qt::Key_Return);
    QVERIFY(std::abs(w.session().tools().brush().flow - 0.035f) < 1e-6f);
    QTest::keyClick(flow, Qt::Key_Right);
    QVERIFY(w.session().tools().brush().flow > 0.035f);
    QTest::mouseClick(flow, Qt::LeftButton, {}, {flow->width() - 1, 27});
    QCOMPARE(w.session().tools().brush().flow, 1.f);
  }
  void theReadingsNameTheColourUnderThePen() {
    Layered w;
    w.chooseColor(*fromHex("#a77f5d"));
    w.session().fillNow();
    w.settle();
    QMouseEvent move(QEvent::MouseMove, w.at({2, 3, 9}), w.easel().mapToGlobal(w.at({2, 3, 9})), Qt::NoButton,
                     Qt::NoButton, {});
    QCoreApplication::sendEvent(&w.easel(), &move);
    QStringList shown;
    for (const QLabel* l : w.window.findChild<app::BrushStrip*>()->findChildren<QLabel*>())
      shown << l->text();
    const Lab lab = toLab(*fromHex("#a77f5d"));
    QVERIFY2(shown.contains("under pen #a77f5d"), qPrintable(shown.join('|')));
    QVERIFY(shown.join('|').contains(QString("L* %1").arg(lab.l, 0, 'f', 1)));
  }
  void theCourseBringsToolsForwardAndLocksNothing() {
    Layered w;
    auto* thread = w.window.findChild<app::CourseThread*>();
    for (int stage = 0; stage < 6; ++stage) {
      emit thread->chosen(stage);
      QVERIFY(!w.named<QLabel>("message")->text().isEmpty());
      for (const QToolButton* b : w.window.findChildren<QToolButton*>())
        if (b->isVisible()) QVERIFY(b->isEnabled());
    }
    QVERIFY(w.easel().viewing().view == View::Value);
    emit thread->chosen(0);
    QVERIFY(w.session().tools().tool() == app::Tool::Fill);
    // a stage that was reached another way is the one the course shows
    w.window.side().stage().goTo(2);
    QCOMPARE(thread->stage(), 2);
  }
  void theCameraFollowsDragWheelAndKeys() {
    Layered w;
    const Camera before = w.easel().viewing().camera;
    const QPoint middle = w.easel().rect().center();
    QTest::mousePress(&w.easel(), Qt::RightButton, {}, middle);
    QMouseEvent move(QEvent::MouseMove, middle + QPoint(80, 0), w.easel().mapToGlobal(middle), Qt::NoButton,
                     Qt::RightButton, {});
    QCoreApplication::sendEvent(&w.easel(), &move);
    QTest::mouseRelease(&w.easel(), Qt::RightButton, {}, middle + QPoint(80, 0));
    QVERIFY((w.easel().viewing().camera.back() - before.back()).norm() > 0.3f);
    QWheelEvent wheel(middle, w.easel().mapToGlobal(middle), {}, {0, 240}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(&w.easel(), &wheel);
    QVERIFY(w.easel().viewing().camera.distance < 0.9f * before.distance);
    w.key(Qt::Key_5);
    w.key(Qt::Key_Home);
    QVERIFY((w.easel().viewing().camera.back() - before.back()).norm() < 1e-4f);
    QVERIFY(std::abs(w.easel().viewing().camera.distance - before.distance) < 1e-3f * before.distance);
    QCOMPARE(w.session().history().steps().size(), size_t{3});
    QCOMPARE(w.wrongPixels(), 0);
  }
  void refiningKeepsThePictureAndCanBeUndone() {
    Layered w;
    w.chooseColor({0.6f, 0.3f, 0.2f});
    w.session().fillNow();
    const size_t points = w.document().surface->size();
    w.session().apply(withRefinement(w.document(), {}), "Four times the points");
    w.settle();
    QVERIFY(w.document().surface->size() > 3 * points);
    QCOMPARE(w.wrongPixels(), 0);
    w.window.undo();
    w.settle();
    QCOMPARE(w.document().surface->size(), points);
    QCOMPARE(w.wrongPixels(), 0);
  }
};

JUVENOR_TEST(TestPanels)
}  // namespace juvenor
#include "test_panels.moc"
