// What is done to a mask in the window: steps added, moved, changed and taken away, each a step of the
// history; and the view of one channel, or of one layer alone.
#include <QDoubleSpinBox>
#include <QMenu>

#include "app/controls/value_slider.h"
#include "app/easel/channel_bar.h"
#include "app/layer_card/step_editor.h"
#include "app/strata/layer_acts.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/zones.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

struct Masked : test::DrivenWindow {
  StepEditor* editor;

  Masked() : DrivenWindow(test::sphere(40, 10)) {
    Document d = document();
    d.layers.clear();
    d = withFillLayer(d, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
    ChannelValues wet(0.2f, 0.4f, 0.3f);
    wet[Channel::Gloss] = 0.9f;
    d = withSourceLayer(d, "Wet", Stratum::Pigment, fillSource(wet));
    d = *withMaskFromParts(d, d.activeLayer, {});
    session().apply(d, "layers");
    editor = window.findChild<StepEditor*>();
    settle();
  }
  void add(const char* step) {
    editor->findChild<QAction*>(step)->trigger();
    settle();
  }
  QStringList listed() {
    QStringList out;
    for (const MaskStep& s : active()->steps) out << QString::fromUtf8(factsOf(s.way).key.data());
    return out;
  }
  void press(int row, const QString& what) {
    for (QToolButton* b : editor->findChild<QPushButton*>(QString("mask step %1").arg(row))
                              ->parentWidget()
                              ->findChildren<QToolButton*>())
      if (b->toolTip() == what) QTest::mouseClick(b, Qt::LeftButton);
    settle();
  }
};

}  // namespace

class TestMaskStepsWindow : public QObject {
  Q_OBJECT
 private slots:
  void stepsAreListedMovedAndTakenAway() {
    Masked w;
    QVERIFY(w.editor);
    w.add("add step melt");
    w.add("add step contrast");
    w.add("add step break up");
    QCOMPARE(w.listed(), QStringList({"melt", "contrast", "break up"}));
    w.press(3, "Earlier");
    QCOMPARE(w.listed(), QStringList({"melt", "break up", "contrast"}));
    auto* amount = w.editor->findChild<ValueSlider*>("mask step amount");
    amount->show(0.25);
    emit amount->changed(0.25);
    emit amount->settled();
    w.settle();
    QCOMPARE(w.active()->steps[1].amount, 0.25f);
    w.press(1, "Take away");
    QCOMPARE(w.listed(), QStringList({"break up", "contrast"}));
    w.window.undo();
    w.window.undo();
    w.settle();
    QCOMPARE(w.listed(), QStringList({"melt", "break up", "contrast"}));
    QCOMPARE(w.active()->steps[1].amount, 1.f);
  }

  void masksMoveAndComeFromAreas() {
    Masked w;
    const auto run = [&](const std::string& key, const QString& which) {
      for (const LayerAct& act : layerActs(w.session()))
        if (act.key == key)
          for (const LayerAct& one : act.more)
            if (one.label == which) one.run();
      w.settle();
    };
    run("move mask", "Tone");
    QVERIFY(!w.active()->mask && w.document().layers[0]->mask);
    Document d = withSourceLayer(w.document(), "Areas", Stratum::Flesh,
                                 zoneSource({{test::areaAt({0, 0, 10}, 4)}, 0}));
    d.activeLayer = d.layers.back()->id;
    w.session().apply(d, "areas");
    run("mask from areas", "Areas");
    QVERIFY(w.active()->mask);
    const ScalarField& mask = *w.active()->mask;
    size_t shown = 0;
    for (size_t s = 0; s < mask.size(); ++s) shown += mask.at(s)[0] > 0;
    QVERIFY(shown > 10 && shown < mask.size() / 2);
  }

  // The middle of the picture says what the channel holds there, of the skin or of the layer alone.
  void oneChannelIsSeenAlone() {
    Masked w;
    w.session().apply(*withoutMask(w.document(), w.document().activeLayer), "show");
    w.easel().setView(View::Channel);
    auto& bar = w.easel().channelBar();
    QVERIFY(bar.isVisible());
    const auto middle = [&] { return QColor(w.picture().pixel(w.at({0, 0, 10}))); };
    bar.set({Channel::Gloss}, false);
    QTRY_VERIFY(std::abs(middle().red() - std::lround(0.9 * 255)) <= 2);
    bar.set({Channel::Metal}, false);
    QTRY_COMPARE(middle().red(), 0);
    bar.set({Channel::Color}, true);
    QTRY_VERIFY(std::abs(middle().green() - std::lround(0.4 * 255)) <= 2);
    // the lowest layer alone is no wetter than bare skin
    bar.set({Channel::Gloss}, true);
    Document d = w.document();
    d.activeLayer = d.layers[0]->id;
    w.session().apply(d, "choose");
    QTRY_VERIFY(std::abs(middle().red() - 128) <= 2);
    w.easel().setView(View::Flat);
    QVERIFY(!bar.isVisible());
  }
};

JUVENOR_TEST(TestMaskStepsWindow)
}  // namespace juvenor::app
#include "test_mask_steps_window.moc"
