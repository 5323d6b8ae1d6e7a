// A stack of many layers, as a hand holds it: several chosen, grouped, folded, clipped, shown alone, found,
// dragged.
#include <QLineEdit>
#include <QToolButton>

#include "app/mixer/mixer.h"
#include "app/strata/layer_acts.h"
#include "app/strata/strata.h"
#include "core/document/edits/edit_groups.h"
#include "core/layers/nesting.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

struct Stacked : test::DrivenWindow {
  StrataRows* rows;
  QString told;

  Stacked() : DrivenWindow(test::sphere(30, 10)) {
    Document d = document();
    d.layers.clear();
    d = withFillLayer(d, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
    for (const char* name : {"A", "B", "C", "D"}) d = withPaintedLayer(d, name, Stratum::Pigment);
    session().apply(d, "layers");
    rows = window.findChild<StrataRows*>();
    QObject::connect(&session(), &Session::said, rows, [this](const QString& text, bool) { told = text; });
    settle();
    rows->grab();
  }
  uint32_t id(const std::string& name) {
    for (const LayerPointer& l : document().layers)
      if (l->name == name) return l->id;
    return 0;
  }
  LayerPointer layer(const std::string& name) { return layerOf(document(), id(name)); }
  QPoint on(const std::string& name, int x = 120) { return {x, rows->rectOf(id(name)).center().y()}; }
  QPoint dot(const std::string& name) {
    const QRect r = rows->rectOf(id(name));
    return {r.left() + 14, r.center().y()};
  }
  void click(const QPoint& at, Qt::KeyboardModifiers with = {}) {
    QTest::mouseClick(rows, Qt::LeftButton, with, at);
  }
  void drag(const QPoint& from, const QPoint& to) {
    QTest::mousePress(rows, Qt::LeftButton, {}, from);
    QMouseEvent move(QEvent::MouseMove, to, rows->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
    QCoreApplication::sendEvent(rows, &move);
    QTest::mouseRelease(rows, Qt::LeftButton, {}, to);
  }
  bool act(std::string_view key) {
    for (const LayerAct& found : layerActs(session()))
      if (found.may && key == found.key) {
        found.run();
        return true;
      }
    return false;
  }
  std::string order() {
    std::string out;
    for (const LayerPointer& l : document().layers) out += (out.empty() ? "" : " ") + l->name;
    return out;
  }
};

}  // namespace

class TestGroupsWindow : public QObject {
  Q_OBJECT
 private slots:
  void severalAreChosenAndGrouped() {
    Stacked w;
    w.click(w.on("B"));
    w.click(w.on("D"), Qt::ControlModifier);
    QCOMPARE(w.session().chosenLayers(), (std::vector<uint32_t>{w.id("B"), w.id("D")}));
    // with Shift all between
    w.click(w.on("A"));
    w.click(w.on("C"), Qt::ShiftModifier);
    QCOMPARE(w.session().chosenLayers().size(), size_t{3});
    // what one does to one goes for all
    w.click(w.dot("B"));
    QVERIFY(!w.layer("A")->visible && !w.layer("B")->visible && !w.layer("C")->visible &&
            w.layer("D")->visible);
    w.click(w.dot("B"));
    QTest::keyClick(&w.window, Qt::Key_G, Qt::ControlModifier);
    QCOMPARE(w.order(), std::string("Tone A B C Group D"));
    QVERIFY(isGroup(*w.layer("Group")));
    QCOMPARE(w.layer("B")->group, w.id("Group"));
    QCOMPARE(w.document().activeLayer, w.id("Group"));
    // it folds, which is no step of the work, and what lies in it is not listed
    const size_t steps = w.session().history().steps().size();
    const QRect row = w.rows->rectOf(w.id("Group"));
    w.click({row.left() - 5, row.center().y()});
    QVERIFY(w.layer("Group")->folded && w.rows->rectOf(w.id("B")).isEmpty());
    QCOMPARE(w.session().history().steps().size(), steps);
    w.rows->setFocus();
    QTest::keyClick(w.rows, Qt::Key_Return);
    QVERIFY(!w.layer("Group")->folded && !w.rows->rectOf(w.id("B")).isEmpty());
    QTest::keyClick(&w.window, Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(w.order(), std::string("Tone A B C D"));
    // a click on one of several chooses it alone
    w.click(w.on("A"));
    w.click(w.on("B"), Qt::ControlModifier);
    w.click(w.on("A"));
    QCOMPARE(w.session().chosenLayers(), (std::vector<uint32_t>{w.id("A")}));
  }
  void layersAreDraggedIntoGroupsAndOut() {
    Stacked w;
    w.click(w.on("B"));
    QVERIFY(w.act("group"));
    w.drag(w.on("D"), w.on("Group"));
    QCOMPARE(w.order(), std::string("Tone A B D Group C"));
    QCOMPARE(w.layer("D")->group, w.id("Group"));
    // two at once, under the lowest of the group, and far to the left: out of it
    w.click(w.on("D"));
    w.click(w.on("B"), Qt::ControlModifier);
    const QRect last = w.rows->rectOf(w.id("A"));
    w.drag(w.on("D"), {30, last.bottom() + 4});
    QCOMPARE(w.order(), std::string("Tone B D A Group C"));
    QCOMPARE(w.layer("D")->group, 0u);
    // by keys out of a group at its ends
    w.click(w.on("Group"));
    QVERIFY(w.act("ungroup"));
    w.click(w.on("A"));
    w.click(w.on("C"), Qt::ControlModifier);
    QVERIFY(w.act("group"));
    w.click(w.on("C"));
    w.rows->setFocus();
    QTest::keyClick(w.rows, Qt::Key_Up, Qt::ShiftModifier);
    QCOMPARE(w.layer("C")->group, 0u);
    QCOMPARE(w.order(), std::string("Tone B D A Group C"));
  }
  void oneHangsOnAnother() {
    Stacked w;
    w.click(w.on("C"));
    QTest::keyClick(&w.window, Qt::Key_B, Qt::ControlModifier);
    QVERIFY(w.layer("C")->clipped);
    // where nothing is below, nothing shows
    w.chooseColor({0.9f, 0.1f, 0.1f});
    w.session().fillNow();
    w.settle();
    const Document d = w.document();
    const Rgba16 tone = opaque16({0.7f, 0.5f, 0.4f});
    QCOMPARE(colorAt(*compositeOf(d.layers, *d.maps, d.bare), 500), tone);
    QCOMPARE(w.wrongPixels(), 0);
    // painting what it hangs on shows it
    w.click(w.on("B"));
    w.session().fillNow();
    w.settle();
    QVERIFY(colorAt(*compositeOf(w.document().layers, *w.document().maps, w.document().bare), 500) != tone);
    QCOMPARE(w.wrongPixels(), 0);
    w.click(w.on("C"));
    QVERIFY(w.act("clipped") && !w.layer("C")->clipped);
    // the lowest of a stratum has nothing to hang on
    w.click(w.on("A"));
    QVERIFY(!w.act("clipped"));
  }
  void oneIsShownAlone() {
    Stacked w;
    LayerChange hide;
    hide.visible = false;
    w.session().apply(withLayerChanged(w.document(), w.id("D"), hide), "hide");
    w.click(w.dot("B"), Qt::AltModifier);
    QVERIFY(w.layer("B")->visible && !w.layer("A")->visible && !w.layer("Tone")->visible);
    // from one to the next
    w.click(w.dot("C"), Qt::AltModifier);
    QVERIFY(w.layer("C")->visible && !w.layer("B")->visible);
    w.click(w.dot("C"), Qt::AltModifier);
    QVERIFY(w.layer("A")->visible && w.layer("B")->visible && w.layer("Tone")->visible &&
            !w.layer("D")->visible);
    QCOMPARE(w.session().aloneLayer(), 0u);
  }
  void mergingTellsWhatCannotBe() {
    Stacked w;
    w.click(w.on("B"));
    w.session().fillNow();
    LayerChange lock, mode;
    lock.locked = true;
    w.session().apply(withLayerChanged(w.document(), w.id("A"), lock), "lock");
    QVERIFY(w.act("merge down"));
    QVERIFY(w.told.contains("locked"));
    QCOMPARE(w.document().layers.size(), size_t{5});
    lock.locked = false;
    w.session().apply(withLayerChanged(w.document(), w.id("A"), lock), "unlock");
    mode.blend = BlendMode::Multiply;
    w.session().apply(withLayerChanged(w.document(), w.id("B"), mode), "mode");
    w.click(w.on("B"));
    QVERIFY(w.act("merge down"));
    QVERIFY2(w.told.contains("group"), qPrintable(w.told));
    QVERIFY(w.act("merge visible"));
    QCOMPARE(w.document().layers.size(), size_t{1});
    QCOMPARE(w.wrongPixels(), 0);
  }
  void manyAreFoundAndTheMixerGivesRoom() {
    Stacked w;
    auto* mixer = w.window.findChild<Mixer*>();
    auto* find = w.window.findChild<QLineEdit*>("find layer");
    QVERIFY(!mixer->folded() && !find->isVisible());
    Document d = w.document();
    for (int i = 0; i < 15; ++i) d = withPaintedLayer(d, "Coat " + std::to_string(i), Stratum::Surface);
    w.session().apply(d, "layers");
    QTRY_VERIFY(mixer->folded() && find->isVisible());
    w.rows->grab();
    find->setText("coat 7");
    w.rows->grab();
    QVERIFY(w.rows->rectOf(w.id("A")).isEmpty());
    QVERIFY(!w.rows->rectOf(w.id("Coat 7")).isEmpty());
    find->clear();
    // lines of one row each
    const int high = w.rows->listHeight();
    w.window.findChild<QToolButton*>("dense strata")->click();
    QVERIFY(w.rows->listHeight() < high * 4 / 5);
    w.window.findChild<QToolButton*>("dense strata")->click();
    // what the artist opens stays open
    QTest::mouseClick(w.window.findChild<QPushButton*>("fold mixer"), Qt::LeftButton);
    QVERIFY(!mixer->folded());
    w.session().apply(withPaintedLayer(w.document(), "One more", Stratum::Surface), "layer");
    QTest::qWait(50);
    QVERIFY(!mixer->folded());
  }
};

JUVENOR_TEST(TestGroupsWindow)
}  // namespace juvenor::app
#include "test_groups_window.moc"
