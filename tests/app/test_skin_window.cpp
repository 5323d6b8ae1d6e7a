// Base, zones, masks and the board, driven in the real window as a hand would.
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QTableWidget>

#include "app/board/picture_view.h"
#include "app/controls/value_slider.h"
#include "app/layer_card/layer_card.h"
#include "app/layer_card/term_editor.h"
#include "app/mixer/color_field.h"
#include "app/mixer/tone_field.h"
#include "app/stage/stage.h"
#include "core/color/lab.h"
#include "core/photo/picture_file.h"
#include "demo/demo.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

Sculpt twoParts() {
  Sculpt small = test::sphere(24, 3, {0, 16, 0});
  small.parts = {"Crest"};
  return test::together(test::sphere(96, 10), small);
}

}  // namespace

class TestSkinWindow : public QObject {
  Q_OBJECT
 private slots:
  void fillsPartsInOneGo() {
    test::DrivenWindow w(twoParts());
    w.window.side().show(SideColumn::Page::Stage);
    w.window.side().stage().goTo(0);
    auto* table = w.named<QTableWidget>("part tones");
    QCOMPARE(table->rowCount(), 2);
    const EncodedColor crest{0.9f, 0.2f, 0.1f};
    w.chooseColor(crest);
    const QPoint tone = table->visualItemRect(table->item(1, 1)).center();
    QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, tone);
    // the second part shines like armour
    w.session().tools().setNumber(Channel::Gloss, 0.7f);
    for (const int column : {2, 3})
      QTest::mouseClick(table->viewport(), Qt::LeftButton, {},
                        table->visualItemRect(table->item(1, column)).center());
    const size_t steps = w.session().history().steps().size();
    w.named<QPushButton>("fill parts")->click();
    w.settle();
    const ChannelFields skin = w.session().engine().skin();
    const auto crestPoint = *nearestSample(*w.document().surface, {0, 19, 0}, 1e6f),
               facePoint = *nearestSample(*w.document().surface, {0, 0, 10}, 1e6f);
    QVERIFY(std::abs(from16(skin.get<Channel::Gloss>().at(crestPoint)[0]) - 0.7f) < 1e-3f);
    QCOMPARE(skin.get<Channel::Metal>().at(crestPoint)[0], uint16_t{65535});
    QCOMPARE(skin.get<Channel::Metal>().at(facePoint)[0], uint16_t{0});
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    QCOMPARE(w.active()->stratum, Stratum::Flesh);
    QCOMPARE(w.colorNear({0, 19, 0}), opaque16(crest));
    QCOMPARE(w.colorNear({0, 0, 10}), opaque16(w.document().wells[2]));
    // an unticked part stays
    table->item(0, 0)->setCheckState(Qt::Unchecked);
    w.chooseColor({0, 0, 1});
    QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, tone);
    w.named<QPushButton>("fill parts")->click();
    QCOMPARE(w.colorNear({0, 0, 10}), opaque16(w.document().wells[2]));
    QCOMPARE(w.colorNear({0, 19, 0}), opaque16({0, 0, 1}));
  }
  void placesLandmarksLaysZonesDragsOneAndMasksIt() {
    test::DrivenWindow w(test::sphere(128, 100));
    w.window.side().show(SideColumn::Page::Stage);
    w.window.side().stage().goTo(1);
    w.named<QPushButton>("place landmarks")->click();
    QCOMPARE(w.session().tools().tool(), Tool::Zones);
    // four of the twelve: the crown, then what the guide's picture chooses
    QCOMPARE(w.session().tools().landmark(), std::string("crown"));
    w.mouseStroke({w.at({0, 80, 60})});
    QCOMPARE(w.session().tools().landmark(), std::string("brow"));
    for (const auto& [key, place] : std::map<std::string, Vec3>{
             {"nose", {0, 0, 100}}, {"cheekbone", {50, 0, 86.6f}}, {"chin", {0, -70, 71.4f}}}) {
      w.session().tools().setLandmark(key);
      w.mouseStroke({w.at(place)});
    }
    QCOMPARE(w.document().landmarks.size(), size_t{4});
    for (const Landmark& l : w.document().landmarks) QVERIFY(std::abs(l.position.norm() - 100) < 1.5f);
    w.named<QPushButton>("usual zones")->click();
    w.settle();
    const ZoneSet* zones = w.active()->source->zones();
    QVERIFY(zones && zones->zones.size() == 4);
    QCOMPARE(w.wrongPixels(), 0);
    // drag the nose's handle to the right: every frame is what the core says, one step in the end
    const auto nose = [&] {
      return *std::ranges::find(w.active()->source->zones()->zones, "Nose tip", &HueZone::name);
    };
    const size_t steps = w.session().history().steps().size();
    const Vec3 to(-30, 40, 86.6f);
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, w.at(nose().anchor));
    for (int i = 1; i <= 5; ++i) {
      const QPoint p =
          w.at((nose().anchor + (to - nose().anchor) * (static_cast<float>(i) / 5)).normalized() * 100);
      QMouseEvent move(QEvent::MouseMove, p, w.easel().mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(&w.easel(), &move);
    }
    w.session().engine().drain();
    QCOMPARE(w.session().history().steps().size(), steps);
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, w.at(to));
    w.settle();
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    QVERIFY2((nose().anchor - to).norm() < 3,
             qPrintable(QString::number(double((nose().anchor - to).norm()))));
    QVERIFY(nose().landmark.empty());
    QCOMPARE(w.wrongPixels(), 0);
    // coming back to the stage takes the zones in hand again
    const uint32_t zoneLayer = w.document().activeLayer;
    w.session().chooseLayer(w.document().layers.front()->id == zoneLayer ? w.document().layers.back()->id
                                                                         : w.document().layers.front()->id);
    w.window.side().stage().goTo(1);
    QCOMPARE(w.document().activeLayer, zoneLayer);
    // hold it back with the layer's mask
    const auto tinted = [&](const Vec3& p) {
      const auto s = *nearestSample(*w.document().surface, p, 1e6f);
      return deltaE2000(toLab(straight(colorAt(w.session().engine().skin().color(), s))),
                        toLab(w.document().bare));
    };
    QVERIFY(tinted(to) > 4);
    w.key(Qt::Key_K);
    w.setBrush([](Brush& b) { b.radius = 40, b.flow = 1, b.hardness = 0.8f; });
    w.penStroke({{w.at(to), 1.0}, {w.at(to) + QPoint(3, 0), 1.0}});
    QVERIFY(w.active()->mask);
    QVERIFY2(tinted(to) < 1, qPrintable(QString::number(tinted(to))));
    w.window.undo();
    w.settle();
    QVERIFY(tinted(to) > 4);
  }
  void addsZonesOfACreatureByHand() {
    test::DrivenWindow w(test::sphere(96, 100));
    w.window.side().stage().goTo(1);
    w.named<QPushButton>("empty zones")->click();
    w.chooseColor({0.2f, 0.5f, 0.5f});
    w.mouseStroke({w.at({20, 30, 93})});
    w.mouseStroke({w.at({-40, -30, 86})});
    const ZoneSet* zones = w.active()->source->zones();
    QCOMPARE(zones->zones.size(), size_t{2});
    QCOMPARE(w.session().tools().zone(), 1);
    // a slider of the chosen zone: live while it moves, one step when it rests
    w.window.side().show(SideColumn::Page::Layer);
    ValueSlider* strength = nullptr;
    for (auto* s : w.window.findChildren<ValueSlider*>())
      if (s->isVisible() && s->accessibleName() == "Strength") strength = s;
    QVERIFY(strength);
    const size_t steps = w.session().history().steps().size();
    QTest::mousePress(strength, Qt::LeftButton, {}, QPoint(strength->width() / 2, 27));
    QTest::mouseRelease(strength, Qt::LeftButton, {}, QPoint(strength->width() / 2, 27));
    QCOMPARE(w.session().history().steps().size(), steps + 1);
    QVERIFY(std::abs(w.active()->source->zones()->zones[1].strength - 0.5f) < 0.05f);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void picksFromTheBoard() {
    test::DrivenWindow w(test::sphere(32, 10));
    const demo::DemoPicture picture = demo::boardPictures()[2];
    QVERIFY(writePicture(w.folder() / "cheek.png", picture.size, picture.pixels));
    Board& board = w.window.side().board();
    w.window.side().show(SideColumn::Page::Board);
    board.add({w.path(w.folder() / "cheek.png"), w.path(w.folder() / "nowhere.png")});
    w.awaitBackground();
    QCOMPARE(w.document().board.size(), size_t{1});
    auto* view = w.named<PictureView>("board picture");
    QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(view->width() / 2, view->height() / 2));
    const EncodedColor picked = w.session().tools().color();
    QVERIFY(deltaE2000(toLab(picked), toLab(meanColor(*w.document().board[0].data, picture.size.width / 2,
                                                      picture.size.height / 2, 5))) < 1.5);
    QCOMPARE(w.session().tools().pinned(true), std::optional(picked));
    // and one from the sculpt, with the same key: the pair reads their difference
    w.key(Qt::Key_P);
    w.mouseStroke({w.at({0, 0, 10})});
    QCOMPARE(board.pinned().reading(),
             QString("ΔE %1").arg(deltaE2000(toLab(picked), toLab(w.document().bare)), 0, 'f', 1));
    // pan and zoom are kept in the document, and are no step
    const size_t steps = w.session().history().steps().size();
    QWheelEvent wheel(QPointF(40, 40), view->mapToGlobal(QPointF(40, 40)), {}, {0, 480}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(view, &wheel);
    QVERIFY(w.document().board[0].nearer > 1.5f);
    QCOMPARE(w.session().history().steps().size(), steps);
    QTest::mouseDClick(view, Qt::LeftButton, {}, QPoint(40, 40));
    QCOMPARE(w.document().board[0].nearer, 1.f);
    board.takePalette();
    w.awaitBackground();
    QCOMPARE(board.palette().colors().size(), size_t{12});
    // paste: a picture from the clipboard
    QImage image(30, 20, QImage::Format_RGB32);
    image.fill(QColor(10, 200, 30));
    QGuiApplication::clipboard()->setImage(image);
    QTest::qWait(50);
    QVERIFY(board.paste());
    w.awaitBackground();
    QCOMPARE(w.document().board.size(), size_t{2});
    QCOMPARE(toHex(meanColor(*w.document().board[1].data, 5, 5, 3)), std::string("#0ac81e"));
    w.easel().setBehind(image);
    w.settle();
    QCOMPARE(w.picture().pixelColor(4, w.easel().height() / 2), QColor(10, 200, 30));
  }
  void masksFromMapsAndColours() {
    test::DrivenWindow w(twoParts());
    w.session().apply(withFillLayer(w.document(), "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f}), "fill");
    w.window.side().show(SideColumn::Page::Layer);
    w.named<QPushButton>("add map")->click();
    w.awaitBackground();
    QCOMPARE(w.active()->terms.size(), size_t{1});
    auto* kind = w.named<QComboBox>("map kind");
    const int exposure = kind->findText("Exposure");
    kind->setCurrentIndex(exposure);
    emit kind->activated(exposure);
    w.awaitBackground();
    QCOMPARE(w.active()->terms.front().map.kind, &kExposureMap);
    QVERIFY(w.document().maps->known(w.active()->terms.front().map));
    QCOMPARE(w.wrongPixels(), 0);
    // a colour range, asked for in its dialog and seen while it is open
    w.session().chooseLayer(w.document().layers.front()->id);
    QTimer::singleShot(0, &w.window, [&] {
      for (QWidget* top : QApplication::topLevelWidgets())
        if (auto* dialog = qobject_cast<QDialog*>(top); dialog && dialog->objectName() == "color range")
          dialog->accept();
    });
    ColorRange range;
    w.chooseColor({0.7f, 0.5f, 0.4f});
    QVERIFY(askColorRange(&w.window, w.session(), w.document().activeLayer, range));
    QCOMPARE(range.colors, std::vector<EncodedColor>{(EncodedColor{0.7f, 0.5f, 0.4f})});
  }
  void theGuardHoldsAndIsStriped() {
    test::DrivenWindow w(test::sphere(64, 10));
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1, b.hardness = 0.9f, b.pressureSize = false; });
    const QPoint middle = w.at({0, 0, 10});
    const QRgb plain = w.picture().pixel(middle);
    w.key(Qt::Key_G);
    w.penStroke({{middle, 1.0}, {middle + QPoint(2, 0), 1.0}});
    QVERIFY(w.document().guard);
    QVERIFY(w.picture().pixel(middle) != plain);
    w.key(Qt::Key_H);
    w.settle();
    QCOMPARE(w.picture().pixel(middle), plain);
    w.key(Qt::Key_A);
    w.chooseColor({1, 0, 0});
    w.penStroke({{middle, 1.0}, {w.at({3.6f, 0, 9.33f}), 1.0}});
    QCOMPARE(w.colorNear({0, 0, 10}).a, uint16_t{0});
    QVERIFY(colorAt(w.painted(), *nearestSample(*w.document().surface, {4.2f, 0, 9.07f}, 100)).a > 60000);
  }
  void mixesSkinTones() {
    test::DrivenWindow w(test::sphere(24, 10));
    auto* field = w.named<ToneField>("tone field");
    QTest::mousePress(field, Qt::LeftButton, {}, QPoint(field->width() / 2, field->height() / 4));
    const SkinTone tone = field->tone();
    QVERIFY(std::abs(tone.blood - 0.5f) < 0.02f && std::abs(tone.melanin - 0.25f) < 0.02f);
    QCOMPARE(w.session().tools().color(), colorOf(tone));
    // a skin colour from elsewhere moves the marker to its nearest tone
    w.chooseColor(colorOf({0.6f, 0.3f, 0.2f}));
    QVERIFY(std::abs(field->tone().melanin - 0.6f) < 0.06f);
    // one that is no skin stays beside the field, which does not turn yellow after it
    const float yellow = field->tone().yellow;
    QVERIFY(nearestTone({0.64f, 0.29f, 0.24f}).tone.yellow > yellow + 0.3f);
    w.chooseColor({0.64f, 0.29f, 0.24f});
    QCOMPARE(field->tone().yellow, yellow);
    w.session().tools().setGreyLock(true);
    w.chooseColor({0.9f, 0.3f, 0.1f});
    const EncodedColor c = w.session().tools().color();
    QVERIFY(c.r == c.g && c.g == c.b);
    QVERIFY(std::abs(toLab(c).l - toLab(EncodedColor{0.9f, 0.3f, 0.1f}).l) < 0.5);
  }
  // The planes of colours answer to the arrow keys, stop at their edges, and follow what is chosen elsewhere.
  void colourPlanesGoByKeys() {
    test::DrivenWindow w(test::sphere(24, 10));
    auto* tones = w.named<ToneField>("tone field");
    tones->show({0.5f, 0.5f, 0.3f});
    QTest::keyClick(tones, Qt::Key_Right);
    QTest::keyClick(tones, Qt::Key_Up);
    QVERIFY(std::abs(tones->tone().blood - 0.51f) < 1e-4f && std::abs(tones->tone().melanin - 0.49f) < 1e-4f);
    QCOMPARE(w.session().tools().color(), colorOf(tones->tone()));
    for (int i = 0; i < 60; ++i) QTest::keyClick(tones, Qt::Key_Left);
    QCOMPARE(tones->tone().blood, 0.f);
    ColorField2D plane(ColorField2D::Kind::ChromaLightness), hues(ColorField2D::Kind::Hue);
    for (ColorField2D* f : {&plane, &hues}) {
      f->resize(130, 90);
      f->show({0.6f, 0.1f, 200});
    }
    Oklch chosen;
    for (ColorField2D* f : {&plane, &hues})
      connect(f, &ColorField2D::chosen, this, [&](const Oklch& c) { chosen = c; });
    QTest::keyClick(&plane, Qt::Key_Up);
    QVERIFY(std::abs(chosen.l - 0.61f) < 1e-3f && std::abs(chosen.c - 0.1f) < 1e-3f && chosen.h == 200);
    QTest::keyClick(&plane, Qt::Key_Right);
    QVERIFY(std::abs(chosen.c - 0.104f) < 1e-3f);
    // there is one way to go along the hues: up is as good as right
    QTest::keyClick(&hues, Qt::Key_Up);
    QVERIFY(std::abs(chosen.h - 202) < 0.01f && std::abs(chosen.l - 0.6f) < 1e-5f);
    QTest::keyClick(&hues, Qt::Key_Left);
    QVERIFY(std::abs(chosen.h - 200) < 0.01f);
    QTest::mouseClick(&plane, Qt::LeftButton, {}, QPoint(65, 45));
    QVERIFY(std::abs(chosen.l - 0.5f) < 0.01f && std::abs(chosen.c - 0.13f) < 0.01f);
  }
  void checksValues() {
    test::DrivenWindow w(test::sphere(48, 10));
    w.easel().setView(View::Value);
    w.easel().valueBar().set({3, 4});
    w.settle();
    QTRY_VERIFY(std::ranges::any_of(w.easel().valueBar().histogram(), [](uint32_t n) { return n > 100; }));
    const int middle = qRed(w.picture().pixel(w.at({0, 0, 10})));
    QVERIFY(middle == 0 || middle == 128 || middle == 127 || middle == 255);
    w.easel().setView(View::Skin);
    QVERIFY(!w.easel().valueBar().isVisible());
  }
  void backgroundWorkCanBeCancelled() {
    test::DrivenWindow w(test::sphere(24, 10));
    std::atomic<bool> started = false;
    Outcome result = Done{};
    bool over = false;
    w.session().background().start(
        "Waiting",
        [&](const Progress& p) -> Outcome {
          started = true;
          while (report(p, 0.5f)) std::this_thread::sleep_for(std::chrono::milliseconds(5));
          return cancelledError();
        },
        [&](const Outcome& o) {
          result = o;
          over = true;
        });
    while (!started) QTest::qWait(5);
    auto* cancel = w.named<QPushButton>("cancel background");
    QTRY_VERIFY(cancel->isVisible());
    cancel->click();
    QTRY_VERIFY(over);
    QVERIFY(!result && isCancelled(result.error()));
    QTRY_VERIFY(!cancel->isVisible());
  }
};

JUVENOR_TEST(TestSkinWindow)
}  // namespace juvenor::app
#include "test_skin_window.moc"
