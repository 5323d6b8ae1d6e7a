// Gloss, metal and relief in the window: ticked beside the mixer, painted with the pen, seen in readings,
// weighed on the layer's page.
#include <QLabel>
#include <QLineEdit>

#include "app/controls/channel_grid.h"
#include "app/controls/value_slider.h"
#include "app/mixer/pen_lays.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

struct Painting : DrivenWindow {
  Painting() : DrivenWindow(test::sphere(60, 10)) {
    session().apply(withPaintedLayer(document(), "Paint", Stratum::Pigment), "Add layer");
    settle();
  }
  ChannelButton* button(const char* key) {
    auto* lays = window.findChild<PenLays*>();
    for (auto* b : lays->findChildren<ChannelButton*>())
      if (b->objectName() == QString("lays ") + key) return b;
    qFatal("no button");
  }
  const ChannelFields& fields() { return *layerOf(document(), document().activeLayer)->source->fields(); }
  void dab() {
    penStroke({{at({0, 0, 10}), 1.0}, {at({1, 0, 9.9f}), 1.0}});
    settle();
  }
};

}  // namespace

class TestChannelWindow : public QObject {
  Q_OBJECT
 private slots:
  // Channels that are seldom wanted show when one asks for them, and while they are on.
  void seldomChannelsStayFoldedAway() {
    Painting w;
    auto* more = w.window.findChild<PenLays*>()->findChild<QPushButton*>("more channels");
    QVERIFY(w.button("gloss")->isVisible() && w.button("metal")->isVisible());
    QVERIFY(!w.button("coat")->isVisible() && !w.button("wander")->isVisible());
    more->click();
    for (const char* key : {"glow", "wander", "coat", "fuzz"}) QVERIFY(w.button(key)->isVisible());
    w.button("coat")->click();
    more->click();
    QVERIFY(w.button("coat")->isVisible() && !w.button("fuzz")->isVisible());
    w.button("coat")->click();
    QVERIFY(!w.button("coat")->isVisible());
  }
  // Each channel ticked alone and painted: the layer gets that one and no other.
  void whatIsTickedIsPainted() {
    for (const char* key : {"gloss", "metal", "relief"}) {
      Painting w;
      QTest::mouseClick(w.button("color"), Qt::LeftButton, {}, QPoint(30, 12));
      QTest::mouseClick(w.button(key), Qt::LeftButton, {}, QPoint(30, 12));
      w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1, b.hardness = 0.8f; });
      w.dab();
      QVERIFY2(w.fields().written() == ChannelSet(*channelFromKey(key)), key);
      QVERIFY(w.session().history().steps().back()->name.find(key) != std::string::npos);
    }
  }
  void nothingTickedIsToldAndTheWordsHelp() {
    Painting w;
    QTest::mouseClick(w.button("color"), Qt::LeftButton, {}, QPoint(30, 12));
    const size_t steps = w.session().history().steps().size();
    w.dab();
    QCOMPARE(w.session().history().steps().size(), steps);
    QVERIFY(w.named<QLabel>("message")->text().contains("lays nothing"));
  }
  // A drag across a button sets its value and switches it on; typing does so too.
  void valuesAreDraggedAndTyped() {
    Painting w;
    ChannelButton* gloss = w.button("gloss");
    const float before = w.session().tools().number(Channel::Gloss);
    QTest::mousePress(gloss, Qt::LeftButton, {}, QPoint(60, 12));
    for (int x = 60; x >= 20; x -= 4) {
      QMouseEvent move(QEvent::MouseMove, QPointF(x, 12), gloss->mapToGlobal(QPointF(x, 12)), Qt::NoButton,
                       Qt::LeftButton, {});
      QCoreApplication::sendEvent(gloss, &move);
    }
    QTest::mouseRelease(gloss, Qt::LeftButton, {}, QPoint(20, 12));
    QVERIFY(w.session().tools().laid().has(Channel::Gloss));
    QVERIFY(std::abs(w.session().tools().number(Channel::Gloss) - (before - 0.25f)) < 0.01f);
    ChannelButton* relief = w.button("relief");
    relief->setFocus();
    QTest::keyClick(relief, Qt::Key_Return);
    auto* edit = relief->findChild<QLineEdit*>();
    QVERIFY(edit);
    edit->setText("-0,05 mm");
    QTest::keyClick(edit, Qt::Key_Return);
    const float height = w.session().tools().number(Channel::Relief) * w.document().placement.millimetres;
    QVERIFY(std::abs(height + 0.05f) < 1e-4f);
  }
  void readingsAndStrengths() {
    Painting w;
    ChannelValues wet;
    wet[Channel::Gloss] = 1.f;
    wet[Channel::Relief] = 0.1f;
    w.session().apply(withFilled(w.document(), w.document().activeLayer, wet, 1), "Fill");
    w.settleFully();
    w.hover(w.at({0, 0, 10}));
    auto* reading = w.named<QLabel>("channels under pen");
    QVERIFY2(reading->text().contains("gloss 100 %") && reading->text().contains("relief +"),
             qPrintable(reading->text()));
    w.window.side().show(SideColumn::Page::Layer);
    auto* strength = w.named<ValueSlider>("strength Relief");
    QVERIFY(strength->isVisible() && !w.named<ValueSlider>("strength Metal")->isVisible());
    strength->setFocus();
    strength->show(-1);
    emit strength->changed(-1);
    emit strength->settled();
    QCOMPARE(w.document().layers.back()->strengths[Channel::Relief], -1.f);
    w.settleFully();
    w.hover(w.at({0.5f, 0, 10}));
    QVERIFY2(reading->text().contains("relief −"), qPrintable(reading->text()));
  }
};

JUVENOR_TEST(TestChannelWindow)
}  // namespace juvenor::app
#include "test_channel_window.moc"
