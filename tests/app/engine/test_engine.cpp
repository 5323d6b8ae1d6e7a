// The engine alone, without a window around it: what the pen sees first, and how the picture comes to rest.
#include <QPainter>

#include "app/engine/engine.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/patterns.h"
#include "core/render/still.h"
#include "core/textures/sheet_layout.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor::app {
namespace {

// An engine and the picture its frames make, as the easel shows it.
struct Shown {
  Engine engine;
  Viewing viewing;
  std::mutex mutex;
  QImage picture;
  std::vector<QRect> frames;

  explicit Shown(const Document& d, View view, const ViewSize& size = {640, 480}) {
    viewing.size = size;
    QObject::connect(
        &engine, &Engine::frameReady, &engine,
        [this](const QImage& pixels, const QPoint& place) {
          const std::lock_guard hold(mutex);
          frames.emplace_back(place, pixels.size());
          if (pixels.size() == QSize(viewing.size.width, viewing.size.height))
            picture = pixels;
          else
            QPainter(&picture).drawImage(place, pixels);
        },
        Qt::DirectConnection);
    viewing.view = view;
    viewing.camera = framed({}, viewing.size, d.surface->bounds);
    engine.setViewing(viewing);
    engine.setDocument(d);
  }
  QRgb at(const QPoint& p) {
    const std::lock_guard hold(mutex);
    return picture.isNull() ? 0 : picture.pixel(p);
  }
  QImage image() {
    const std::lock_guard hold(mutex);
    return picture.copy();
  }
  std::vector<QRect> takeFrames() {
    const std::lock_guard hold(mutex);
    return std::exchange(frames, {});
  }
};

// The sheet's picture as its view shows it.
struct ShownSheet {
  SheetViewing viewing;
  std::mutex mutex;
  QImage picture;
  size_t wholes = 0;

  ShownSheet(Shown& shown, SheetPointer sheet, const ViewSize& size) {
    viewing.sheet = std::move(sheet);
    viewing.shown = true;
    viewing.size = size;
    viewing.camera = framedTile(sheetCamera(), size, 1001);
    QObject::connect(
        &shown.engine, &Engine::sheetReady, &shown.engine,
        [this](const QImage& pixels, const QPoint& place) {
          const std::lock_guard hold(mutex);
          if (pixels.size() == QSize(viewing.size.width, viewing.size.height))
            picture = pixels, ++wholes;
          else
            QPainter(&picture).drawImage(place, pixels);
        },
        Qt::DirectConnection);
    shown.engine.setSheet(viewing);
  }
  QImage image() {
    const std::lock_guard hold(mutex);
    return picture.copy();
  }
};

// Of the green of every ninth pixel, how far two pictures lie apart in the middle of them.
double meanDistance(const QImage& a, const QImage& b) {
  double sum = 0;
  int count = 0;
  for (int y = 0; y < a.height(); y += 3)
    for (int x = 0; x < a.width(); x += 3, ++count)
      sum += std::abs(qGreen(a.pixel(x, y)) - qGreen(b.pixel(x, y)));
  return sum / count;
}

QRgb bytesOf(const EncodedColor& c) {
  const auto byte = [](float v) { return static_cast<int>(v * 255 + 0.5f); };
  return qRgb(byte(c.r), byte(c.g), byte(c.b));
}

}  // namespace

class TestEngine : public QObject {
  Q_OBJECT
 private slots:
  // A pen that comes down while a switched layer is still to be drawn: its own pixels come first, as a small
  // part, and the rest of the picture follows while it stays down.
  void thePenGoesBeforeTheRestOfThePicture() {
    Document d = withPaintedLayer(test::documentOf(test::sphere(400, 10)), "Coat", Stratum::Flesh);
    const uint32_t coat = d.activeLayer;
    d = *withFilled(d, coat, {0.2f, 0.4f, 0.8f}, 1);
    d = withPaintedLayer(d, "Paint", Stratum::Pigment);
    Shown shown(d, View::Flat);
    shown.engine.waitSettled();
    const QPoint away(320, 150), under(320, 300);
    QCOMPARE(shown.at(away), bytesOf({0.2f, 0.4f, 0.8f}));
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.paint.color = {0.9f, 0.1f, 0.1f};
    setting.brush.radius = 0.5f;
    setting.brush.flow = 1;
    setting.brush.pressureFlow = setting.brush.pressureSize = false;
    const auto small = [](const QRect& f) { return f.width() < 320 && f.height() < 240; };
    int first = 0;
    for (int round = 0; round < 8; ++round) {
      LayerChange change;
      change.visible = !(round % 2 == 0);
      d = *withLayerChanged(d, coat, change);
      shown.takeFrames();
      shown.engine.setDocument(d);
      shown.engine.beginStroke(setting, {{320, 300}, 1, {0, 0}, 0});
      QTRY_VERIFY(qRed(shown.at(under)) > 220 && qBlue(shown.at(under)) < 50);
      // the pen is still down
      QTRY_COMPARE(shown.at(away), bytesOf(round % 2 == 0 ? d.bare : EncodedColor{0.2f, 0.4f, 0.8f}));
      const auto frames = shown.takeFrames();
      QVERIFY(!frames.empty());
      first += small(frames.front());
      shown.engine.endStroke();
      d = shown.engine.finishStrokes().back().document;
    }
    // where both were posted before the engine looked, which is as good as always
    QVERIFY2(first >= 4, qPrintable(QString::number(first)));
  }
  // While a dragged size still grows over the whole sculpt, the middle of the picture shows it.
  void aDraggedSizeShowsInTheMiddleFirst() {
    Document d = test::documentOf(test::plane(500, 10));
    Scales scales;
    scales.guides.size.size = 0.1f;
    d = withSourceLayer(d, "Pebbles", Stratum::Surface, scaleSource(scales));
    Shown shown(d, View::Flat);
    shown.engine.waitSettled();
    const QImage before = shown.image();
    scales.guides.size.size = 0.25f;
    d = *withSource(d, d.activeLayer, scaleSource(scales));
    shown.takeFrames();
    shown.engine.setDocument(d);
    QTRY_VERIFY(shown.image() != before);
    const QImage glimpse = shown.image();
    const auto frames = shown.takeFrames();
    QVERIFY(frames.front().width() < 640 && frames.front().height() < 480);
    QVERIFY(frames.front().contains(320, 240));
    shown.engine.waitSettled();
    // what has grown at last is what a fresh engine shows, and more of it than the glimpse
    const QImage after = shown.image();
    QVERIFY(after != glimpse);
    Shown fresh(d, View::Flat);
    fresh.engine.waitSettled();
    QCOMPARE(after, fresh.image());
  }
  // What a stroke leaves rough is smoothed alone: no whole picture comes after it, and at rest it is the
  // still's all the same.
  void afterAStrokeOnlyItsPlaceIsSmoothed() {
    const Document d = withPaintedLayer(test::documentOf(test::sphere(test::kSanitized ? 140 : 300, 10)),
                                        "Paint", Stratum::Pigment);
    Shown shown(d, View::Flat);
    shown.engine.waitSettled();
    shown.takeFrames();
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.paint.color = {0.9f, 0.1f, 0.1f};
    setting.brush.radius = 0.6f;
    setting.brush.flow = 1;
    setting.brush.hardness = 1;
    shown.engine.beginStroke(setting, {{300, 200}, 1, {0, 0}, 0});
    for (int i = 1; i <= 6; ++i)
      shown.engine.moveStroke({{300 + 4.f * static_cast<float>(i), 200}, 1, {0, 0}, 0.01 * i});
    shown.engine.endStroke();
    shown.engine.waitSettled();
    const auto frames = shown.takeFrames();
    QVERIFY(frames.size() > static_cast<size_t>(kSettledEdgeRays));
    for (const QRect& frame : frames)
      QVERIFY2(frame.width() * frame.height() < 640 * 480 / 2,
               qPrintable(QString("%1 × %2").arg(frame.width()).arg(frame.height())));
    const QImage still = shown.engine.still(shown.viewing, kSettledEdgeRays);
    int red = 0;
    for (int y = 0; y < still.height(); ++y)
      for (int x = 0; x < still.width(); ++x) {
        QCOMPARE(shown.at({x, y}) & 0xffffff, still.pixel(x, y) & 0xffffff);
        red += qRed(still.pixel(x, y)) > 200;
      }
    QVERIFY(red > 50);
  }
  // A lamp that moves shows at once, the whole of it; at rest the picture is the still's.
  void aLampThatMovesShowsAtOnce() {
    const Document d = withPaintedLayer(test::documentOf(test::sphere(test::kSanitized ? 140 : 300, 10)),
                                        "Paint", Stratum::Pigment);
    Shown shown(d, View::Skin, {800, 600});
    shown.viewing.light.kind = LightKind::Lamps;
    shown.engine.setViewing(shown.viewing);
    shown.engine.waitSettled();
    const auto bright = [&](const QPoint& p) { return qGray(shown.at(p)); };
    // the key stands at one side; then it stands at the other
    const QPoint left(250, 300), right(550, 300);
    const int before = bright(left) - bright(right);
    for (Lamp& lamp : shown.viewing.light.lamps) lamp.around = -lamp.around - 2 * 40;
    shown.takeFrames();
    shown.engine.setViewing(shown.viewing);
    QTRY_VERIFY((bright(left) - bright(right)) * before < 0);
    const auto frames = shown.takeFrames();
    QVERIFY(!frames.empty() && frames.front() == QRect(0, 0, 800, 600));
    shown.engine.waitSettled();
    const QImage still = shown.engine.still(shown.viewing, kSettledEdgeRays);
    int furthest = 0;
    for (int y = 0; y < still.height(); y += 3)
      for (int x = 0; x < still.width(); x += 3)
        furthest = std::max(furthest, std::abs(qGreen(still.pixel(x, y)) - qGreen(shown.at({x, y}))));
    QVERIFY2(furthest <= 1, qPrintable(QString::number(furthest)));
    // a turn moves lamps too; nothing of that is left over for a pen to find
    shown.viewing.camera = turned(shown.viewing.camera, {25, 0});
    shown.engine.setViewing(shown.viewing);
    shown.engine.waitSettled();
    shown.takeFrames();
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.brush.radius = 0.5f;
    shown.engine.beginStroke(setting, {{400, 300}, 1, {0, 0}, 0});
    shown.engine.drain();
    for (const QRect& frame : shown.takeFrames()) QVERIFY(frame.width() < 400);
    shown.engine.endStroke();
    shown.engine.drain();
  }
  // A sheet of so many pixels that a hand would wait for them shows fewer while it moves, what changes
  // meanwhile too; at rest it is what a fresh engine shows.
  void aSheetThatMovesShowsAtOnce() {
    Sculpt square = test::plane(test::kSanitized ? 150 : 400, 100);
    UvSet uv{"UV", {}, square.corners};
    for (const Vec3& v : square.vertices)
      uv.coordinates.push_back(Vec2(v.x() / 100 + 0.5f, v.y() / 100 + 0.5f));
    square.uvSets = {uv};
    Document d = test::documentOf(square);
    Scales scales;
    scales.guides.size.size = 2;
    d = withSourceLayer(d, "Pebbles", Stratum::Surface, scaleSource(scales));
    const SheetPointer sheet = *sheetOf(d, 0);
    constexpr ViewSize kLarge{2600, 2000};
    Shown shown(d, View::Flat, {200, 150});
    shown.engine.waitSettled();
    ShownSheet seen(shown, sheet, kLarge);
    shown.engine.waitSettled();
    const auto rests = [&](const Document& document, const QImage& picture) {
      Shown fresh(document, View::Flat, {200, 150});
      fresh.engine.waitSettled();
      ShownSheet again(fresh, sheet, kLarge);
      again.viewing.camera = seen.viewing.camera;
      fresh.engine.setSheet(again.viewing);
      fresh.engine.waitSettled();
      return picture == again.image();
    };
    const QImage before = seen.image();
    seen.viewing.camera = panned(seen.viewing.camera, kLarge, {300, -100});
    seen.viewing.moving = true;
    shown.engine.setSheet(seen.viewing);
    shown.engine.waitSettled();
    const QImage moving = seen.image();
    QVERIFY(moving != before);
    // the skin changes beneath the hand
    d = withPaintedLayer(d, "Paint", Stratum::Pigment);
    ChannelValues red;
    red.color = EncodedColor{0.8f, 0.1f, 0.1f};
    d = *withFilled(d, d.activeLayer, red, 1);
    shown.engine.setDocument(d);
    shown.engine.waitSettled();
    QVERIFY(qGreen(seen.image().pixel(1300, 1000)) < 60);
    d = *withoutLayer(d, d.activeLayer);
    shown.engine.setDocument(d);
    shown.engine.waitSettled();
    seen.viewing.moving = false;
    shown.engine.setSheet(seen.viewing);
    shown.engine.waitSettled();
    const QImage resting = seen.image();
    QVERIFY(resting != moving);
    QVERIFY(meanDistance(resting, moving) < 0.3 * meanDistance(resting, before));
    QVERIFY(rests(d, resting));
  }
  // Rays beside the first meet samples that no pixel showed before, whose chunks nobody composited yet.
  void fineSkinSettlesRightAfterOpening() {
    const Document d = test::documentOf(test::sphere(test::kSanitized ? 200 : 400, 10));
    Shown shown(d, View::Skin, {120, 90});
    shown.engine.waitSettled();
    QVERIFY(test::sameValues(shown.engine.skin().color(), *compositeOf(d.layers, *d.maps, d.bare)));
    const QImage still = shown.engine.still(shown.viewing, kSettledEdgeRays);
    int furthest = 0;
    for (int y = 0; y < still.height(); ++y)
      for (int x = 0; x < still.width(); ++x)
        furthest = std::max(furthest, std::abs(qRed(still.pixel(x, y)) - qRed(shown.at({x, y}))));
    QVERIFY2(furthest <= 1, qPrintable(QString::number(furthest)));
  }
};

JUVENOR_TEST(TestEngine)
}  // namespace juvenor::app

#include "test_engine.moc"
