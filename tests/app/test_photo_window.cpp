// The Photo stage in the window: a photo hung before the eye, placed, pinned, judged, toned, thrown and
// painted through.
#include <QClipboard>
#include <QLabel>
#include <QMenu>
#include <QRegularExpression>
#include <QTimer>

#include "app/controls/value_slider.h"
#include "app/stage/photo_page.h"
#include "core/color/lab.h"
#include "core/photo/picture_file.h"
#include "core/surface/build/search.h"
#include "demo/demo.h"
#include "driven_window.h"
#include "support/photos.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

// A ball of 200, and a photo that is red on its left and green on its right half.
struct Photo : DrivenWindow {
  Photo() : DrivenWindow(test::sphere(120, 100)) {
    session().apply(withPaintedLayer(document(), "Paint", Stratum::Surface), "Add layer");
    window.side().show(SideColumn::Page::Stage);
    window.side().stage().goTo(4);
    settle();
  }
  PhotoPage& page() { return window.side().stage().photo(); }
  SlideHand& hand() { return easel().slide(); }
  size_t step() { return session().history().current(); }
  void hang() {
    page().hang("halves", test::photo(200, 200, [](float u, float) {
                  return u < 0.5f ? LinearColor{0.5f, 0.05f, 0.05f} : LinearColor{0.05f, 0.5f, 0.05f};
                }));
    settle();
  }
  void click(const char* name) {
    auto* b = named<QAbstractButton>(name);
    QVERIFY2(b && b->isEnabled(), name);
    QTest::mouseClick(b, Qt::LeftButton);
    settle();
  }
  EncodedColor seenAt(const Vec3& place) {
    settleFully();
    const auto probe = session().engine().probe(
        document(), Vec2(static_cast<float>(at(place).x()), static_cast<float>(at(place).y())));
    return probe ? probe->composite : EncodedColor{};
  }
  static bool red(const EncodedColor& c) { return c.r > 0.65f && c.g < 0.4f; }
  static bool green(const EncodedColor& c) { return c.g > 0.65f && c.r < 0.4f; }
  void dragRight(const QPoint& from, const QPoint& to) {
    QTest::mousePress(&easel(), Qt::RightButton, {}, from);
    for (int i = 1; i <= 4; ++i) {
      const QPoint p = from + (to - from) * i / 4;
      QMouseEvent move(QEvent::MouseMove, p, easel().mapToGlobal(p), Qt::NoButton, Qt::RightButton, {});
      QCoreApplication::sendEvent(&easel(), &move);
    }
    QTest::mouseRelease(&easel(), Qt::RightButton, {}, to);
    settle();
  }
};

}  // namespace

class TestPhotoWindow : public QObject {
  Q_OBJECT
 private slots:
  void aPhotoIsHungMovedScaledAndTurned() {
    Photo w;
    const size_t before = w.step();
    w.hang();
    QCOMPARE(w.step(), before + 1);
    QVERIFY(w.session().tools().tool() == Tool::Slide && w.hand().shown());
    QVERIFY(w.named<QFrame>("slide bar")->isVisible());
    const QPoint middle = w.easel().rect().center();
    w.mouseStroke({middle, middle + QPoint(20, -10), middle + QPoint(40, -20)});
    QCOMPARE(w.document().slides.size(), size_t{1});
    const float half = 0.5f * static_cast<float>(w.easel().viewing().size.height);
    const Slide moved = w.document().slides.front();
    QVERIFY((moved.middle - Vec2(40 / half, 20 / half)).norm() < 0.02f);
    // the wheel makes it larger around the pen, a right drag turns it; the eye stays
    const Camera eye = w.easel().viewing().camera;
    QWheelEvent wheel(middle, w.easel().mapToGlobal(middle), {}, {0, 240}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(&w.easel(), &wheel);
    QTRY_VERIFY_WITH_TIMEOUT(w.document().slides.front().half > 1.2f * moved.half, 3000);
    w.dragRight(middle, middle + QPoint(60, 0));
    QVERIFY(std::abs(w.document().slides.front().turn) > 5);
    QVERIFY(w.easel().viewing().camera == eye);
    // all of it can be undone
    w.session().goTo(before + 1);
    w.settle();
    QVERIFY(w.hand().slide()->turn == 0 && w.hand().slide()->middle == Vec2(0, 0));
  }
  void oneKeyMovesTheSculptBeneath() {
    Photo w;
    w.hang();
    const Camera eye = w.easel().viewing().camera;
    w.key(Qt::Key_V);
    QVERIFY(w.hand().movesSculpt());
    const QPoint middle = w.easel().rect().center();
    QTest::mousePress(&w.easel(), Qt::LeftButton, {}, middle);
    for (int i = 1; i <= 4; ++i) {
      const QPoint p = middle + QPoint(15 * i, 0);
      QMouseEvent move(QEvent::MouseMove, p, w.easel().mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(&w.easel(), &move);
    }
    QTest::mouseRelease(&w.easel(), Qt::LeftButton, {}, middle + QPoint(60, 0));
    w.settle();
    QVERIFY(!(w.easel().viewing().camera == eye));
    QVERIFY(w.hand().slide()->middle == Vec2(0, 0));
    QVERIFY(w.hand().slide()->camera == w.easel().viewing().camera);
    w.key(Qt::Key_V);
    QVERIFY(!w.hand().movesSculpt());
  }
  void pinsHoldThePhotoToTheSkin() {
    Photo w;
    w.hang();
    w.click("slide pin");
    const QPoint middle = w.easel().rect().center();
    w.mouseStroke({middle, middle + QPoint(30, 0)});
    QCOMPARE(w.document().slides.front().pins.size(), size_t{1});
    const SlidePin pin = w.document().slides.front().pins.front();
    QVERIFY2(pin.onPicture.norm() < 0.02f, qPrintable(QString::number(pin.onPicture.norm())));
    QVERIFY((w.at(pin.onSkin) - middle - QPoint(30, 0)).manhattanLength() <= 2);
    // the picture's middle lies where it was pinned now
    const Slide& slide = w.document().slides.front();
    const Vec2 at = pixelOfPicture(warpOf(slide), w.easel().viewing().size, Vec2::Zero());
    QVERIFY(std::abs(at.x() - static_cast<float>(middle.x() + 30) *
                                  static_cast<float>(w.easel().devicePixelRatioF())) < 2);
    // beside the skin there is nothing to pin to; a click takes a pin out
    w.mouseStroke({QPoint(4, 60)});
    QCOMPARE(w.document().slides.front().pins.size(), size_t{1});
    w.mouseStroke({w.at(pin.onSkin)});
    QCOMPARE(w.document().slides.front().pins.size(), size_t{0});
  }
  void aPinTakesToALandmark() {
    Photo w;
    w.session().apply(withLandmark(w.document(), "nose", {0, 0, 100}), "Place nose");
    w.hang();
    w.click("slide pin");
    const QPoint nose = w.at({0, 0, 100});
    w.mouseStroke({nose + QPoint(50, 0), nose + QPoint(25, 0), nose + QPoint(4, 3)});
    QVERIFY((w.document().slides.front().pins.front().onSkin - Vec3(0, 0, 100)).norm() < 1e-3f);
  }
  void itIsThrownAsALiveLayerThatFollows() {
    Photo w;
    w.hang();
    const size_t layers = w.document().layers.size();
    w.click("slide throw");
    QCOMPARE(w.document().layers.size(), layers + 1);
    QVERIFY(throwOf(*w.active()->source));
    const Vec3 left(-40, 0, 91.65f), right(40, 0, 91.65f);
    QTRY_VERIFY_WITH_TIMEOUT(Photo::red(w.seenAt(left)) && Photo::green(w.seenAt(right)), 8000);
    // placed anew, it follows; undone, it goes back
    w.click("slide mirrored");
    QTRY_VERIFY_WITH_TIMEOUT(Photo::green(w.seenAt(left)) && Photo::red(w.seenAt(right)), 8000);
    w.session().goTo(w.step() - 1);
    QTRY_VERIFY_WITH_TIMEOUT(Photo::red(w.seenAt(left)), 8000);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void itsLayerIsSetOnItsCard() {
    Photo w;
    w.hang();
    w.click("slide throw");
    w.hang();
    w.click("slide throw");
    w.window.side().show(SideColumn::Page::Layer);
    w.settle();
    const auto thrown = [&] { return *throwOf(*w.active()->source); };
    QCOMPARE(thrown().slides.size(), size_t{2});
    auto* reach = w.named<ValueSlider>("throw Reach");
    QVERIFY(reach && reach->isVisible());
    QVERIFY(std::abs(reach->value() - 72) < 0.5);
    const auto move = [&](ValueSlider* slider, double to) {
      slider->show(to);
      emit slider->changed(to);
      emit slider->settled();
      w.settle();
    };
    move(reach, 40);
    QVERIFY(std::abs(thrown().reach - 40) < 0.5f);
    QVERIFY(!Photo::red(w.seenAt({-70, 0, 71.4f})) && Photo::red(w.seenAt({-30, 0, 95.4f})));
    w.click("throw lays detail");
    QVERIFY(thrown().part == PhotoPart::Detail);
    w.click("throw color");
    QVERIFY(!thrown().color);
    auto* relief = w.named<ValueSlider>("throw Relief");
    move(relief, 0.5);
    QVERIFY(thrown().relief > 0);
    for (QPushButton* b : w.window.findChildren<QPushButton*>("thrown halves"))
      if (b->isVisible() && thrown().slides.size() == 2) b->click();
    w.settle();
    QCOMPARE(thrown().slides.size(), size_t{1});
    // the last one stays
    for (QPushButton* b : w.window.findChildren<QPushButton*>("thrown halves"))
      QVERIFY(b->isHidden() || !b->isEnabled());
    w.window.undo();
    w.settle();
    QCOMPARE(thrown().slides.size(), size_t{2});
  }
  void brushesPaintThroughIt() {
    Photo w;
    w.hang();
    w.session().setActivePart(0);
    w.key(Qt::Key_A);
    QVERIFY(w.hand().shown());
    w.setBrush([](Brush& b) {
      b.radius = 12;
      b.hardness = 1;
      b.flow = 1;
      b.pressureSize = b.pressureFlow = false;
    });
    const Vec3 left(-40, 0, 91.65f), right(40, 0, 91.65f);
    w.penStroke({{w.at(left), 1}, {w.at(right), 1}});
    QVERIFY(Photo::red(straight(w.colorNear(left))) && Photo::green(straight(w.colorNear(right))));
    // put aside, the pen lays its own colour again
    w.key(Qt::Key_S, Qt::ShiftModifier);
    QVERIFY(!w.hand().shown());
    w.chooseColor({0, 0, 1});
    w.penStroke({{w.at(left), 1}, {w.at(left) + QPoint(2, 0), 1}});
    QVERIFY(straight(w.colorNear(left)).b > 0.9f);
  }
  void itsWorthIsTold() {
    Photo w;
    w.hang();
    auto* worth = w.named<QLabel>("photo worth");
    QTRY_VERIFY_WITH_TIMEOUT(worth->text().contains("200 × 200"), 5000);
    w.click("see fineness");
    QTRY_VERIFY_WITH_TIMEOUT(w.easel().viewing().shows != nullptr, 8000);
    w.click("see fineness");
    QVERIFY(w.easel().viewing().shows == nullptr);
  }
  void theBoardTellsWhatPicturesAreWorth() {
    Photo w;
    w.window.side().show(SideColumn::Page::Board);
    Document d = w.document();
    for (const demo::DemoPicture& p : demo::boardPictures())
      d = withPicture(d, p.name, *decodePicture(*encodePng(p.size, p.pixels), p.name));
    w.session().apply(d, "Add pictures");
    const auto words = [&] {
      QStringList out;
      for (const QLabel* l : w.window.findChildren<QLabel*>("picture words")) out << l->text();
      return out;
    };
    QTRY_VERIFY_WITH_TIMEOUT(words().size() == 5 && words().filter("×").size() == 5, 10'000);
    QVERIFY2(words().filter("out of focus").join(' ').contains("blurred"), qPrintable(words().join('|')));
    QVERIFY2(words().filter("lit from the left").join(' ').contains("left)"), qPrintable(words().join('|')));
    QVERIFY(words().filter("weathered").join(' ').contains("evenly lit"));
  }
  void lightAndTonesAreWorkedOut() {
    Photo w;
    w.session().apply(withFillLayer(w.document(), "tone", Stratum::Flesh, {0.6f, 0.45f, 0.4f}), "Fill");
    w.page().hang("ball", test::photo(300, 300, [](float u, float v) {
                    // a grey ball lit from the left
                    const float x = 1.7f * (u - 0.5f), y = 1.7f * (0.5f - v), zz = 1 - x * x - y * y;
                    const float lit = zz > 0 ? 0.2f + 0.15f * (-0.7f * x + 0.7f * std::sqrt(zz)) : 0.1f;
                    return LinearColor{lit, lit, lit};
                  }));
    w.settle();
    w.click("photo light");
    w.awaitBackground();
    QVERIFY(w.document().slides.front().tone.light.has_value());
    float left = 0, right = 0;
    for (size_t way = 0; way < kSkyWays; ++way)
      (skyWays()[way].x() < 0 ? left : right) += (*w.document().slides.front().tone.light)[0][way];
    QVERIFY2(left > 2 * right, qPrintable(QString("%1 %2").arg(left).arg(right)));
    w.click("photo match");
    w.awaitBackground();
    const SlideTone& tone = w.document().slides.front().tone;
    QVERIFY(tone.match == 1);
    const Oklab target = toOklab(decode({0.6f, 0.45f, 0.4f}));
    QVERIFY(std::abs(tone.to.mean[0] - target.l) < 0.02f);
    // a pin: how far photo and skin are there, as it was taken and as it is toned
    auto* told = w.named<QLabel>("pin differences");
    QVERIFY(!told->text().contains("ΔE"));
    Slide pinned = w.document().slides.front();
    pinned.pins = {{{0, 0}, {0, 0, 100}}};
    w.session().apply(withSlide(w.document(), pinned), "Pin");
    QTRY_VERIFY_WITH_TIMEOUT(told->text().contains("ΔE"), 10'000);
    const auto numbers = QRegularExpression("ΔE ([0-9.]+).* ([0-9.]+)$").match(told->text());
    QVERIFY2(numbers.captured(1).toDouble() > numbers.captured(2).toDouble() + 3, qPrintable(told->text()));
    // too few pins for a camera: told, and nothing changed
    const size_t before = w.step();
    w.click("photo solve");
    w.awaitBackground();
    QCOMPARE(w.step(), before);
    QVERIFY(w.named<QLabel>("message")->text().contains("pins"));
  }
  // a slide that covers a part of the view does not keep the pen from erasing or hiding beside it
  void erasingAndMasksGoPastTheSlide() {
    Photo w;
    w.session().apply(withFilled(w.document(), w.document().activeLayer, {0.2f, 0.3f, 0.8f}, 1), "Fill");
    w.hang();
    Slide small = *w.hand().slide();
    small.half = 0.1f;
    small.middle = {-0.5f, 0};
    w.session().apply(withSlide(w.document(), small), "Small");
    w.settle();
    w.setBrush([](Brush& b) { b.radius = 12, b.flow = 1, b.hardness = 0.9f; });
    w.session().tools().setTool(Tool::Erase);
    w.mouseStroke({w.at({40, 0, 91})});
    QVERIFY2(w.colorNear({40, 0, 91}).a < 3000, qPrintable(QString::number(w.colorNear({40, 0, 91}).a)));
    w.session().tools().setTool(Tool::Mask);
    w.mouseStroke({w.at({40, 50, 76})});
    const auto sample = *nearestSample(*w.document().surface, {40, 50, 76}, 5);
    QVERIFY2(w.active()->mask->at(sample)[0] < 3000,
             qPrintable(QString::number(w.active()->mask->at(sample)[0])));
    QVERIFY(w.hand().shown());
  }
  // with the slide in hand what is pasted hangs before the eye, else it goes onto the board
  void picturesArePastedAsSlides() {
    Photo w;
    QImage image(40, 30, QImage::Format_RGB32);
    image.fill(QColor(200, 90, 60));
    QGuiApplication::clipboard()->setImage(image);
    w.session().tools().setTool(Tool::Slide);
    w.settle();
    w.key(Qt::Key_V, Qt::ControlModifier);
    w.awaitBackground();
    QCOMPARE(w.document().slides.size(), size_t{1});
    QCOMPARE(w.document().board.size(), size_t{0});
    QVERIFY(w.hand().shown() && w.hand().slide()->picture->width == 40);
    w.session().tools().setTool(Tool::Airbrush);
    w.settle();
    w.key(Qt::Key_V, Qt::ControlModifier);
    w.awaitBackground();
    QCOMPARE(w.document().slides.size(), size_t{1});
    QCOMPARE(w.document().board.size(), size_t{1});
    // what is under way is not given up for it
    std::atomic<bool> go = false;
    bool done = false;
    w.session().background().start(
        "Slow work",
        [&](const Progress&) -> Outcome {
          while (!go) QThread::msleep(5);
          return Done{};
        },
        [&](const Outcome& outcome) { done = static_cast<bool>(outcome); });
    w.key(Qt::Key_V, Qt::ControlModifier);
    QVERIFY(w.named<QLabel>("message")->text().contains("Slow work"));
    go = true;
    QTRY_VERIFY(done);
    QCOMPARE(w.document().board.size(), size_t{1});
    // nothing to paste is told
    QGuiApplication::clipboard()->setText("no picture");
    w.session().tools().setTool(Tool::Slide);
    w.key(Qt::Key_V, Qt::ControlModifier);
    QVERIFY(w.named<QLabel>("message")->text().contains("no picture"));
    QCOMPARE(w.document().slides.size(), size_t{1});
  }
  // A photo from somewhere else: from six pins its camera is found, and the easel looks from there.
  void aCameraIsSolvedAndLookedThrough() {
    Photo w;
    w.hang();
    Camera taken = turned(w.easel().viewing().camera, Vec2(24, -12) / kDegreesPerPixel);
    taken.fieldOfView = 24;
    taken.distance = 520;
    // half the picture's longer side is half the view's height: it is square
    const auto seen = toView(taken);
    Slide slide = w.document().slides.front();
    for (const auto& [around, up] :
         {std::pair(-30.f, 10.f), {25.f, 15.f}, {0.f, -25.f}, {40.f, -10.f}, {-15.f, 40.f}, {5.f, 5.f}}) {
      const Vec3 place = 100 * (taken.turn * Eigen::AngleAxisf(around / 57.3f, Vec3::UnitY()) *
                                Eigen::AngleAxisf(-up / 57.3f, Vec3::UnitX()) * Vec3::UnitZ());
      const Vec3 p = seen.leftCols<3>() * place + seen.col(3);
      slide.pins.push_back({p.head<2>() / p.z(), place});
    }
    w.session().apply(withSlide(w.document(), slide), "Pin");
    w.settle();
    w.click("photo solve");
    w.awaitBackground();
    const Slide& found = w.document().slides.front();
    QVERIFY2(found.camera.back().dot(taken.back()) > 0.9999f,
             qPrintable(QString::number(found.camera.back().dot(taken.back()))));
    QVERIFY((found.camera.eye() - taken.eye()).norm() < 0.02f * taken.distance);
    QVERIFY((w.easel().viewing().camera.eye() - found.camera.eye()).norm() < 1e-2f);
    // nothing is bent: every pin lies where the photo has it
    for (const SlidePin& pin : found.pins) {
      const Vec2 at = pixelOfPicture(warpOf(found), {800, 800}, pin.onPicture);
      QVERIFY((at - project(found.camera, {800, 800}, pin.onSkin).head<2>()).norm() < 1);
    }
  }
  void tonesAreMatchedToAZoneFromAMenu() {
    Photo w;
    w.session().apply(withFillLayer(w.document(), "tone", Stratum::Flesh, {0.6f, 0.45f, 0.4f}), "Fill");
    w.session().apply(withSourceLayer(w.document(), "Zones", Stratum::Flesh,
                                      sourceKind("zones")->fresh(*w.document().surface, {})),
                      "Zones");
    HueZone nose = test::areaAt({0, 0, 100}, 30);
    nose.name = "Nose";
    nose.tint.plain = true;
    nose.tint.color = {0.7f, 0.2f, 0.2f};
    w.session().apply(withZones(w.document(), w.document().activeLayer, {{nose}, 0}), "Zone");
    w.hang();
    bool chosen = false;
    QTimer::singleShot(300, &w.window, [&] {
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (!menu) return;
      for (QAction* action : menu->actions())
        if (action->text() == "Nose") {
          action->trigger();
          chosen = true;
        }
      menu->close();
    });
    w.click("photo match where");
    QVERIFY(chosen);
    w.awaitBackground();
    const SlideTone& tone = w.document().slides.front().tone;
    QCOMPARE(tone.match, 1.f);
    QVERIFY2(tone.to.mean[1] > 0.06f, qPrintable(QString::number(tone.to.mean[1])));
  }
  void slidesAreListedTakenAndRemoved() {
    Photo w;
    w.hang();
    w.easel().look(Side::Right);
    w.settle();
    w.click("slide halves");
    QVERIFY(w.easel().viewing().camera == w.document().slides.front().camera);
    w.session().apply(withoutSlide(w.document(), 1), "Remove slide");
    w.settle();
    QVERIFY(!w.hand().slide());
    QVERIFY(!w.named<QToolButton>("slide halves") || !w.named<QToolButton>("slide halves")->isVisible());
  }
};

JUVENOR_TEST(TestPhotoWindow)

}  // namespace juvenor::app

#include "test_photo_window.moc"
