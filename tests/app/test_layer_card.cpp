// The stages and the layer card as a hand uses them: every usual first layer in a click, ramps, terms, masks.
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDropEvent>
#include <QInputDialog>
#include <QMimeData>

#include "app/controls/value_slider.h"
#include "app/layer_card/layer_card.h"
#include "app/layer_card/ramp_bar.h"
#include "app/layer_card/term_editor.h"
#include "app/mixer/color_field.h"
#include "app/mixer/mixer.h"
#include "app/stage/stage.h"
#include "core/color/lab.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

ValueSlider* slider(test::DrivenWindow& w, const char* name) {
  for (auto* s : w.window.findChildren<ValueSlider*>())
    if (s->isVisible() && s->accessibleName() == name) return s;
  return nullptr;
}

void slideTo(ValueSlider& s, double part) {
  const QPoint to(static_cast<int>(7 + part * (s.width() - 14)), 27);
  QTest::mousePress(&s, Qt::LeftButton, {}, to);
  QTest::mouseRelease(&s, Qt::LeftButton, {}, to);
}

// Clicks the button of the next dialog of a name.
void accept(test::DrivenWindow& w, const QString& name) {
  auto* timer = new QTimer(&w.window);
  QObject::connect(timer, &QTimer::timeout, &w.window, [timer, name] {
    for (QWidget* top : QApplication::topLevelWidgets())
      if (auto* dialog = qobject_cast<QDialog*>(top);
          dialog && dialog->isVisible() && dialog->objectName() == name) {
        timer->deleteLater();
        return dialog->accept();
      }
  });
  timer->start(20);
}

}  // namespace

class TestLayerCard : public QObject {
  Q_OBJECT
 private slots:
  void everyUsualFirstLayerIsOneClick() {
    test::DrivenWindow w(test::sphere(48, 10));
    w.window.side().show(SideColumn::Page::Stage);
    w.window.side().stage().goTo(0);
    const QStringList buttons{"Shadow in the creases", "Shadow in closed forms", "Rubbed light on ridges",
                              "Darker toward the feet", "Sun on what faces up"};
    int clicked = 0;
    for (auto* b : w.window.side().stage().findChildren<QPushButton*>()) {
      if (!buttons.contains(b->text())) continue;
      const size_t layers = w.document().layers.size();
      b->click();
      w.awaitBackground();
      QCOMPARE(w.document().layers.size(), layers + 1);
      const auto ramp = rampContent(*w.active()->source);
      QVERIFY(ramp && ramp->terms.size() == 1);
      QVERIFY(w.document().maps->known(ramp->terms.front().map));
      QCOMPARE(stageOf(*w.active()), 0);
      QVERIFY(w.active()->blend != BlendMode::Normal);
      ++clicked;
    }
    QCOMPARE(clicked, 5);
    QCOMPARE(w.wrongPixels(), 0);
    // each is a step of its own, and goes again
    for (int i = 0; i < 5; ++i) w.window.undo();
    QVERIFY(std::ranges::none_of(w.document().layers,
                                 [](const auto& l) { return rampContent(*l->source).has_value(); }));
  }
  void aRampIsChangedByItsBarAndItsTerms() {
    test::DrivenWindow w(test::sphere(48, 10));
    MaskTerm up;
    up.map = {&kElevationMap, 0, Vec3::UnitY()};
    w.session().apply(withSourceLayer(w.document(), "Feet", Stratum::Flesh,
                                      rampSource({up}, {{0, {0, 0, 0}, 1}, {1, {1, 1, 1}, 1}})),
                      "ramp");
    w.window.side().show(SideColumn::Page::Layer);
    w.settle();
    auto* bar = w.named<RampBar>("ramp");
    QVERIFY(bar->isVisible());
    // drag the left stop to the middle
    const int left = 6, middle = bar->width() / 2;
    QTest::mousePress(bar, Qt::LeftButton, {}, QPoint(left, 30));
    QMouseEvent move(QEvent::MouseMove, QPointF(middle, 30), bar->mapToGlobal(QPointF(middle, 30)),
                     Qt::NoButton, Qt::LeftButton, {});
    QCoreApplication::sendEvent(bar, &move);
    QTest::mouseRelease(bar, Qt::LeftButton, {}, QPoint(middle, 30));
    w.awaitBackground();
    QVERIFY(std::abs(rampContent(*w.active()->source)->stops[0].at - 0.5f) < 0.05f);
    // a new stop in the mixer's colour
    w.chooseColor({0.8f, 0.1f, 0.1f});
    QTest::mouseDClick(bar, Qt::LeftButton, {}, QPoint(bar->width() / 4, 8));
    w.awaitBackground();
    QCOMPARE(rampContent(*w.active()->source)->stops.size(), size_t{3});
    QCOMPARE(rampContent(*w.active()->source)->stops[0].color, (EncodedColor{0.8f, 0.1f, 0.1f}));
    slideTo(*slider(w, "Contrast"), 0.8);
    w.awaitBackground();
    QVERIFY(rampContent(*w.active()->source)->terms[0].contrast > 0.4f);
    // a second map, subtracted
    w.named<QPushButton>("add map")->click();
    w.awaitBackground();
    QCOMPARE(rampContent(*w.active()->source)->terms.size(), size_t{2});
    QCOMPARE(w.wrongPixels(), 0);
  }
  void theMapIsSeenInGreyAndColour() {
    test::DrivenWindow w(test::sphere(48, 10));
    w.session().apply(withFillLayer(w.document(), "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f}), "fill");
    MaskTerm up;
    up.map = {&kElevationMap, 0, Vec3::UnitY()};
    w.session().apply(withMaskTerms(w.document(), w.document().activeLayer, {up}), "mask");
    w.window.side().show(SideColumn::Page::Layer);
    w.settle();
    const QPoint middle = w.at({0, 0, 10});
    const QRgb skin = w.picture().pixel(middle);
    const auto press = [&](const QString& text) {
      for (auto* b : w.window.findChildren<QPushButton*>())
        if (b->isVisible() && b->text() == text) b->click();
      w.settle();
    };
    press("grey");
    const QRgb grey = w.picture().pixel(middle);
    QVERIFY(qRed(grey) == qGreen(grey) && qGreen(grey) == qBlue(grey) && std::abs(qRed(grey) - 128) < 4);
    press("colour");
    const QRgb colour = w.picture().pixel(middle);
    QVERIFY(colour != grey && colour != skin);
    press("skin");
    QCOMPARE(w.picture().pixel(middle), skin);
  }
  void masksComeFromBrightnessAndGrow() {
    test::DrivenWindow w(test::sphere(64, 10));
    const uint32_t id = w.document().activeLayer;
    w.session().apply(withFilled(w.document(), id, {0.9f, 0.9f, 0.9f}, 1), "fill");
    MaskTerm range;
    accept(w, "brightness");
    QVERIFY(askBrightness(&w.window, w.session(), id, range));
    QCOMPARE(range.low, 0.6f);
    const Document bright = *withMaskFromBrightness(w.document(), id, range);
    QCOMPARE(maskFieldOf(bright, id)->at(5)[0], uint16_t{65535});
    // looking is no step of the work
    QVERIFY(!w.active()->mask);
  }
  void aColourIsDroppedIntoAWell() {
    test::DrivenWindow w(test::sphere(24, 10));
    auto* mixer = w.named<Mixer>("mixer");
    const int span = (mixer->width() - 28) / 10;
    const QPoint well(14 + 2 * span + span / 2, mixer->height() - 22);
    QMimeData data;
    data.setColorData(QColor(12, 34, 56));
    QDragEnterEvent enter(well, Qt::CopyAction, &data, Qt::LeftButton, {});
    QCoreApplication::sendEvent(mixer, &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop(well, Qt::CopyAction, &data, Qt::LeftButton, {});
    QCoreApplication::sendEvent(mixer, &drop);
    QCOMPARE(toHex(w.document().wells[2]), std::string("#0c2238"));
  }
  void harmonyAndFreeColourAreTaken() {
    test::DrivenWindow w(test::sphere(24, 10));
    auto* mixer = w.named<Mixer>("mixer");
    w.chooseColor({0.7f, 0.45f, 0.35f});
    QTest::mouseClick(mixer, Qt::LeftButton, {}, QPoint(24, mixer->height() - 80));
    const float away =
        std::abs(toOklch(w.session().tools().color()).h - toOklch(EncodedColor{0.7f, 0.45f, 0.35f}).h);
    QVERIFY2(std::abs(away - 180) < 12, qPrintable(QString::number(double(away))));
    for (auto* b : mixer->findChildren<QPushButton*>())
      if (b->text() == "Free colour") b->click();
    QCoreApplication::processEvents();
    auto fields = mixer->findChildren<ColorField2D*>();
    QVERIFY(fields[0]->isVisible());
  }
  void zonesAreRenamedTintedAndRemoved() {
    test::DrivenWindow w(test::sphere(64, 100));
    HueZone zone;
    zone.name = "Gill";
    zone.anchor = {40, 0, 91};
    zone.reach = 30;
    w.session().apply(withSourceLayer(w.document(), "Zones", Stratum::Flesh, zoneSource({{zone, zone}, 0})),
                      "zones");
    w.window.side().show(SideColumn::Page::Layer);
    w.session().tools().setTool(Tool::Zones);
    w.settle();
    const auto zones = [&] { return w.active()->source->zones()->zones; };
    auto* hue = w.named<ColorField2D>("zone hue");
    QTest::mouseClick(hue, Qt::LeftButton, {}, QPoint(hue->width() / 2, 8));
    QVERIFY(std::abs(zones()[0].tint.hue - 180) < 8);
    for (auto* box : w.window.findChildren<QCheckBox*>())
      if (box->isVisible() && box->text() == "On both sides") box->click();
    QVERIFY(!zones()[0].mirrored);
    slideTo(*slider(w, "Melt all zones"), 0.5);
    QVERIFY(w.active()->source->zones()->melt > 1);
    QCOMPARE(w.wrongPixels(), 0);
    auto* names = w.named<QComboBox>("zones");
    QCOMPARE(names->count(), 2);
    for (auto* b : w.window.findChildren<QPushButton*>())
      if (b->isVisible() && b->text() == "remove") {
        b->click();
        break;
      }
    QCOMPARE(zones().size(), size_t{1});
  }
};

JUVENOR_TEST(TestLayerCard)
}  // namespace juvenor::app
#include "test_layer_card.moc"
