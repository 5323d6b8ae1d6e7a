// The window as an artist uses it, compared with what the core computes.
#include <QLabel>
#include <QLineEdit>
#include <QShortcut>
#include <QTreeWidget>
#include <fstream>

#include "app/moments/moment_list.h"
#include "app/session/tools.h"
#include "app/style/style.h"
#include "app/window/key_map.h"
#include "core/files.h"
#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;
using test::twoParts;

namespace {

double contrast(const QColor& a, const QColor& b) {
  const auto luminance = [](const QColor& c) {
    return 0.2126 * decodeSrgb(static_cast<float>(c.redF())) +
           0.7152 * decodeSrgb(static_cast<float>(c.greenF())) +
           0.0722 * decodeSrgb(static_cast<float>(c.blueF()));
  };
  const double x = luminance(a), y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

}  // namespace

class TestWindow : public QObject {
  Q_OBJECT
 private slots:
  void everyViewShowsWhatTheCoreComputes() {
    DrivenWindow w(twoParts());
    QCOMPARE(w.wrongPixels(), 0);
    for (const auto& [key, view] : {std::pair(Qt::Key_1, View::Flat),
                                    {Qt::Key_2, View::Value},
                                    {Qt::Key_3, View::Clay},
                                    {Qt::Key_4, View::Skin},
                                    {Qt::Key_V, View::Channel}}) {
      w.key(key, view == View::Channel ? Qt::ShiftModifier : Qt::NoModifier);
      QVERIFY(w.easel().viewing().view == view);
      QCOMPARE(w.wrongPixels(), 0);
    }
    w.key(Qt::Key_4);
    w.easel().look(Side::Right);
    Light turned;
    turned.dial = 120;
    w.easel().setLight(turned);
    QCOMPARE(w.wrongPixels(), 0);
    w.easel().setParallel(true);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void aPenStrokeIsTheStrokeOfTheCore() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) {
      b.radius = 2;
      b.flow = 0.5f;
      b.hardness = 0.3f;
    });
    w.chooseColor({0.1f, 0.6f, 0.8f});
    const Document before = w.document();
    const std::vector<std::pair<QPoint, double>> way{
        {w.at({-5, 4, 7}), 0.3}, {w.at({-3, 5, 7}), 0.7}, {w.at({-1, 6, 7}), 1.0}};
    w.penStroke(way);
    const Rays rays(before.surface, Rays::Quality::Full);
    StrokeSetting setting;
    setting.brush = w.session().tools().brush();
    setting.ink = inkKind("lay");
    setting.paint.color = {0.1f, 0.6f, 0.8f};
    setting.layer = before.activeLayer;
    setting.activePart = 0;
    Flood flood;
    auto stroke = PaintStroke::begin(before, setting, flood);
    PenPath path({&rays, nullptr, w.easel().viewing().camera, w.easel().viewing().size}, setting.brush);
    const auto scale = static_cast<float>(w.easel().devicePixelRatioF());
    for (const auto& [p, pressure] : way)
      path.move({scale * Vec2(static_cast<float>(p.x()), static_cast<float>(p.y())),
                 static_cast<float>(pressure),
                 {0, 0},
                 0},
                (*stroke)->stroke());
    path.finish((*stroke)->stroke());
    const Document expected = *(*stroke)->finish();
    QVERIFY(test::sameValues(w.painted(), *layerOf(expected, before.activeLayer)->source->painted()));
    QVERIFY(w.colorNear({-2, 5.5f, 7}).a > 20'000);
    QCOMPARE(w.session().history().steps().size(), size_t{2});
    QCOMPARE(w.wrongPixels(), 0);
  }
  void theEraserEndErases() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1, b.hardness = 1; });
    w.penStroke({{w.at({-4, 5, 7}), 1}});
    QVERIFY(w.colorNear({-4, 5, 7.6f}).a > 60'000);
    w.penStroke({{w.at({-4, 5, 7}), 1}}, true);
    QCOMPARE(w.colorNear({-4, 5, 7.6f}).a, uint16_t{0});
  }
  void mirroringPaintsBothSides() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1; });
    w.key(Qt::Key_M);
    QVERIFY(w.session().tools().brush().mirror[0]);
    w.mouseStroke({w.at({-4, 5, 7}), w.at({-3, 5.5f, 7})});
    const Surface& s = *w.document().surface;
    size_t painted = 0;
    for (size_t i = 0; i < s.size(); ++i) {
      const Rgba16 c = colorAt(w.painted(), i);
      painted += c.a > 0;
      if (c.a > 0) QCOMPARE(w.colorNear({-s.positions[i].x(), s.positions[i].y(), s.positions[i].z()}), c);
    }
    QVERIFY(painted > 20);
  }
  void theMouseGetsPressureFromTheSimulatedPen() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) {
      b.radius = 1.5f, b.flow = 1, b.hardness = 0.8f;
      b.pressureSize = false, b.pressureFlow = false, b.pressureOpacity = true;
    });
    w.easel().simulatedPen().setPressure(app::SimulatedPen::Pressure::Ramp);
    std::vector<QPoint> way;
    for (int i = 0; i <= 12; ++i) way.push_back(w.at({-6.f + static_cast<float>(i), 6, 5}));
    w.mouseStroke(way);
    const auto first = w.colorNear({-6, 6, 5.3f}).a, last = w.colorNear({6, 6, 5.3f}).a;
    QVERIFY(first > 0 && first < 25'000);
    QVERIFY(last > first + 15'000);
  }
  void recordedStrokesAreReplayed() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 0.4f; });
    w.easel().setRecording(true);
    w.penStroke({{w.at({-5, 4, 7}), 0.3}, {w.at({-2, 6, 7}), 0.9}});
    w.penStroke({{w.at({3, 4, 7}), 0.5}, {w.at({4, 2, 8}), 0.4}});
    w.easel().setRecording(false);
    QCOMPARE(w.easel().recording().strokes.size(), size_t{2});
    const ColorField painted = w.painted();
    const auto file = w.folder() / "s.json";
    QVERIFY(writeBytes(file, toJson(w.easel().recording()).dump()));
    w.window.undo();
    w.window.undo();
    QVERIFY(!test::sameValues(painted, w.painted()));
    QVERIFY(w.window.replayFile(DrivenWindow::path(file)));
    w.settle();
    // every stroke has a rounding offset of its own: after undo it is the same again
    QVERIFY(test::sameValues(painted, w.painted()));
    w.answerWith("OK");
    std::ofstream(w.folder() / "bad.json")
        << R"({"format": "juvenor pen strokes 1", "width": 9, "height": 9, "strokes": [[{"x": 1}]]})";
    QVERIFY(!w.window.replayFile(DrivenWindow::path(w.folder() / "bad.json")));
    QVERIFY2(w.said.contains("stroke 1, point 1") && w.said.contains("bad.json"), qPrintable(w.said));
  }
  void fillUsesTheStrengthBesideItsButton() {
    DrivenWindow w(twoParts());
    auto* hex = w.named<QLineEdit>("hex");
    hex->setText("#ff0000");
    emit hex->editingFinished();
    w.session().tools().setFillStrength(0.26f);
    w.key(Qt::Key_F);
    QTest::mouseClick(w.named<QPushButton>("fill now"), Qt::LeftButton);
    w.settle();
    const Rgba16 head = w.colorNear({0, 10, 0});
    QVERIFY(std::abs(head.a - 17039) <= 1 && head.r == head.a && head.g == 0);
    QCOMPARE(w.colorNear({0, 0, 13}).a, uint16_t{0});
    // with the fill tool a press fills the part under the pen
    w.session().tools().setFillStrength(1);
    w.key(Qt::Key_F);
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, w.at({0, 0, 13}));
    w.settle();
    QCOMPARE(w.colorNear({0, 0, 13}), (Rgba16{65535, 0, 0, 65535}));
    QCOMPARE(w.wrongPixels(), 0);
  }
  void anotherPartMustBeChosenBeforeItIsPainted() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 1, b.flow = 1; });
    w.mouseStroke({w.at({0, 0, 13})});
    QCOMPARE(w.session().activePart(), 1u);
    QVERIFY(w.named<QLabel>("message")->text().contains("Eye"));
    QCOMPARE(w.session().history().steps().size(), size_t{1});
    w.mouseStroke({w.at({0, 0, 13})});
    QVERIFY(w.colorNear({0, 0, 13}).a > 60'000);
  }
  void pickTakesTheColourUnderThePen() {
    DrivenWindow w(twoParts());
    w.chooseColor({0, 1, 0});
    w.session().fillNow();
    w.settle();
    w.chooseColor({0, 0, 1});
    w.key(Qt::Key_P);
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, w.at({-5, 5, 7}));
    QCOMPARE(w.session().tools().color(), (EncodedColor{0, 1, 0}));
    QCOMPARE(w.session().tools().previousColor(), (EncodedColor{0, 0, 1}));
  }
  // A tap tells no direction: a brush that turns along the stroke is laid without one, and seen at once.
  void aTapOfABrushThatTurnsAlongTheStrokeIsLaid() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1, b.turnBy = TurnBy::Stroke; });
    const size_t before = w.session().history().steps().size();
    const QImage bare = w.picture();
    w.mouseStroke({w.at({0, 6, 8})});
    QCOMPARE(w.session().history().steps().size(), before + 1);
    QVERIFY(w.colorNear({0, 6, 8}).a > 30'000);
    QVERIFY(w.picture() != bare);
    QCOMPARE(w.wrongPixels(), 0);
  }
  // Pick, dab, pick, dab: the key held is enough, and the tool stays in hand.
  void pickIsInHandForAsLongAsItsKeyIsHeld() {
    DrivenWindow w(twoParts());
    w.chooseColor({0, 1, 0});
    w.session().fillNow();
    w.settle();
    w.chooseColor({0, 0, 1});
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1; });
    w.activate();
    QTest::keyPress(&w.window, Qt::Key_P);
    QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, w.at({-5, 5, 7}));
    QTest::keyRelease(&w.window, Qt::Key_P);
    QCOMPARE(w.session().tools().color(), (EncodedColor{0, 1, 0}));
    QVERIFY(w.session().tools().tool() == app::Tool::Airbrush && !w.session().tools().picks());
    const size_t before = w.session().history().steps().size();
    w.mouseStroke({w.at({0, 6, 6})});
    QCOMPARE(w.session().history().steps().size(), before + 1);
    // held long without a press it was only looked for
    QTest::keyPress(&w.window, Qt::Key_P);
    QTest::qWait(400);
    QVERIFY(w.session().tools().picks());
    QTest::keyRelease(&w.window, Qt::Key_P);
    QVERIFY(!w.session().tools().picks());
  }
  void undoRedoAndTheHistoryList() {
    DrivenWindow w(twoParts());
    w.window.side().show(app::SideColumn::Page::Past);
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1; });
    std::vector<ColorField> fields{w.painted()};
    for (const float x : {-5.f, 0.f, 5.f}) {
      w.mouseStroke({w.at({x, 6, 6})});
      fields.push_back(w.painted());
    }
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::sameValues(w.painted(), fields[2]));
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(test::sameValues(w.painted(), fields[3]));
    // strokes that follow each other on one layer are one row, their steps beneath
    auto* list = w.named<QTreeWidget>("history");
    QCOMPARE(list->topLevelItemCount(), 2);
    QTreeWidgetItem* strokes = list->topLevelItem(1);
    QCOMPARE(strokes->text(0), QString("Lay colour ×3"));
    QCOMPARE(strokes->childCount(), 3);
    QCOMPARE(strokes->child(0)->text(0), QString("Lay colour"));
    emit list->itemClicked(strokes->child(0), 0);
    w.settle();
    QVERIFY(test::sameValues(w.painted(), fields[1]));
    QCOMPARE(w.wrongPixels(), 0);
    for (int i = 0; i < 5; ++i) w.window.undo();
    QCOMPARE(w.session().history().current(), size_t{0});
    QVERIFY(w.named<QLabel>("message")->text().contains("nothing to undo"));
  }
  void theHistoryTellsWhichLayerAStepChanged() {
    DrivenWindow w(twoParts());
    w.window.side().show(app::SideColumn::Page::Past);
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1; });
    auto* list = w.named<QTreeWidget>("history");
    const auto step = [&](int number) {
      for (QTreeWidgetItemIterator at(list); *at; ++at)
        if ((*at)->childCount() == 0 && number-- == 0) return *at;
      return static_cast<QTreeWidgetItem*>(nullptr);
    };
    const auto names = [&] {
      QStringList out;
      for (int i = 0; step(i); ++i) {
        // the second line: when, and on which layer
        const QString layer = step(i)->data(0, app::kDetail).toString().section(" · ", 1);
        out << step(i)->text(0) + (layer.isEmpty() ? QString() : " · " + layer);
      }
      return out;
    };
    w.mouseStroke({w.at({-5, 6, 6})});
    LayerChange rename;
    rename.name = "Freckles";
    w.session().apply(withLayerChanged(w.document(), w.document().activeLayer, rename), "Rename layer");
    w.mouseStroke({w.at({0, 6, 6})});
    QCOMPARE(names().mid(1),
             (QStringList{"Lay colour · Paint", "Rename layer · Freckles", "Lay colour · Freckles"}));
    // the guard is no layer's
    w.key(Qt::Key_G);
    w.mouseStroke({w.at({5, 6, 6})});
    QCOMPARE(names().last(), QString("Guard"));
    // what is done after going back takes the place of what was undone
    for (int i = 0; i < 3; ++i) w.window.undo();
    QVERIFY(step(2)->foreground(0).color() != step(1)->foreground(0).color());
    // its row is closed
    QCOMPARE(list->currentItem(), step(1)->parent());
    w.session().apply(withPaintedLayer(w.document(), "Veins", Stratum::Pigment), "Add layer");
    QCOMPARE(names().mid(1), (QStringList{"Lay colour · Paint", "Add layer · Veins"}));
    QCOMPARE(step(2)->foreground(0).color(), step(1)->foreground(0).color());
    QCOMPARE(list->currentItem(), step(2));
  }
  void undoInTheMiddleOfAStrokeEndsIt() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 1; });
    w.pen(QEvent::TabletPress, w.at({-5, 4, 7}), 1);
    w.window.undo();
    w.pen(QEvent::TabletMove, w.at({0, 6, 7}), 1);
    w.pen(QEvent::TabletRelease, w.at({0, 6, 7}), 0);
    w.settle();
    QCOMPARE(w.session().history().current(), size_t{0});
    for (size_t s = 0; s < w.painted().size(); ++s) QCOMPARE(w.painted().at(s)[3], uint16_t{0});
  }
  void hiddenPartsAreGoneFromThePicture() {
    DrivenWindow w(twoParts());
    w.showSkin();
    const QImage before = w.picture();
    auto* list = w.named<QListWidget>("parts");
    QCOMPARE(list->count(), 2);
    list->item(1)->setCheckState(Qt::Unchecked);
    w.settle();
    QCOMPARE(w.document().hiddenParts, std::set<uint32_t>{1});
    QVERIFY(w.picture() != before);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void paintingWhereOneCannotSaysWhy() {
    DrivenWindow w(twoParts());
    const auto saidAfter = [&](const LayerChange& change) {
      w.session().apply(withLayerChanged(w.document(), w.document().activeLayer, change), "change");
      w.mouseStroke({w.at({-5, 5, 7})});
      return w.named<QLabel>("message")->text();
    };
    LayerChange change;
    change.locked = true;
    QVERIFY(saidAfter(change).contains("locked"));
    change = {};
    change.visible = false;
    change.locked = false;
    QVERIFY(saidAfter(change).contains("hidden"));
    w.session().apply(withFillLayer(w.document(), "Tone", Stratum::Flesh, {1, 0, 0}), "fill");
    w.mouseStroke({w.at({-5, 5, 7})});
    QVERIFY(w.named<QLabel>("message")->text().contains("fill layer"));
    w.setBrush([](Brush& b) { b.radius = 0.001f; });
    change = {};
    w.session().apply(withPaintedLayer(w.document(), "p", Stratum::Flesh), "layer");
    w.mouseStroke({w.at({-5, 5, 7.05f})});
    QVERIFY2(w.named<QLabel>("message")->text().contains("finer"),
             qPrintable(w.named<QLabel>("message")->text()));
  }
  // WCAG 2.1: 4.5 to 1 for every pairing of text and ground in use.
  void textIsReadable() {
    using namespace app::look;
    for (const QColor& ground : {kGround, kPanel, kRaised, kWell, kStrata[0], kStrata[1], kStrata[2]})
      QVERIFY(contrast(kText, ground) >= 4.5);
    for (const QColor& ground : {kGround, kPanel, kWell, kStrata[2]})
      QVERIFY(contrast(kQuiet, ground) >= 4.5);
    QVERIFY(contrast(Qt::white, kSelected) >= 4.5);
    QVERIFY(contrast(kWarning, kPanel) >= 4.5);
    for (int grey = 0; grey < 256; ++grey)
      QVERIFY2(contrast(app::textOn(grey), QColor(grey, grey, grey)) >= 4.5,
               qPrintable(QString::number(grey)));
  }
  // ISO 3664 (from memory): a neutral surround. Everything along the rim of the easel has R = G = B.
  void theSurroundOfTheEaselIsNeutral() {
    DrivenWindow w(twoParts());
    const QImage shot = w.window.grab().toImage();
    const double scale = shot.devicePixelRatio();
    const QRect easel(QPoint(w.easel().mapTo(&w.window, QPoint(0, 0)) * scale), w.easel().size() * scale);
    const QRect ring = easel.adjusted(-12, -12, 12, 12);
    for (int y = ring.top(); y <= ring.bottom(); ++y)
      for (int x = ring.left(); x <= ring.right(); ++x) {
        if (easel.contains(x, y) || !shot.rect().contains(x, y)) continue;
        const QColor c = shot.pixelColor(x, y);
        QVERIFY2(c.red() == c.green() && c.green() == c.blue(),
                 qPrintable(QString("%1 at %2, %3").arg(c.name()).arg(x).arg(y)));
      }
  }
  void everyShortcutIsOnTheKeyMapOnce() {
    DrivenWindow w(twoParts());
    QStringList keys;
    for (const QAction* a : w.window.findChildren<QAction*>())
      if (!a->shortcut().isEmpty()) keys << a->shortcut().toString();
    for (const QShortcut* s : w.window.findChildren<QShortcut*>()) keys << s->key().toString();
    QVERIFY(keys.size() > 20);
    const qsizetype all = keys.size();
    keys.removeDuplicates();
    QCOMPARE(keys.size(), all);
    app::KeyMap map(&w.window);
    QStringList shown;
    for (const QLabel* l : map.findChildren<QLabel*>()) shown << l->text().split(' ');
    for (const QString& k : keys) QVERIFY2(shown.contains(k), qPrintable(k));
  }
  void everyControlHasATooltip() {
    DrivenWindow w(twoParts());
    for (const QAbstractButton* b : w.window.findChildren<QAbstractButton*>()) {
      if (!b->isVisible() || b->objectName().startsWith("qt_")) continue;
      QVERIFY2(!b->toolTip().isEmpty(), qPrintable(b->text() + b->objectName()));
    }
  }
};

JUVENOR_TEST(TestWindow)
}  // namespace juvenor
#include "test_window.moc"
