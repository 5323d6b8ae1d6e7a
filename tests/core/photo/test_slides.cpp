// Slides: what they show on a form, the camera behind a photo, throwing them as layers, and their way through
// a file.
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/edits.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/photo/picture_file.h"
#include "core/photo/slide_view.h"
#include "core/photo/solve_camera.h"
#include "support/made.h"
#include "support/photos.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using test::cameraFrom;

// Colour over a place of the plane z = 0 that tells where it is.
LinearColor tells(const Vec3& p) {
  return {0.5f + 0.04f * p.x(), 0.5f + 0.04f * p.y(), 0.3f};
}

// What a camera sees of the plane z = 0, as a photo of all of its view.
PicturePointer photoOfPlane(const Camera& camera, int side) {
  const Lens lens(camera, {side, side});
  return test::photo(side, side, [&](float u, float v) {
    const Ray ray = lens.rayThrough(Vec2(u, v) * static_cast<float>(side));
    return tells(ray.origin - ray.origin.z() / ray.direction.z() * ray.direction);
  });
}

SlideView::Spot spotAt(const Vec3& place, float area = 1e-4f) {
  return {place, Vec3::UnitZ(), area};
}

float away(const LinearColor& a, const LinearColor& b) {
  return std::max({std::abs(a.r - b.r), std::abs(a.g - b.g), std::abs(a.b - b.b)});
}

std::vector<CameraPin> pinsSeen(const Camera& camera, std::span<const Vec3> places) {
  const auto seen = toView(camera);
  std::vector<CameraPin> out;
  for (const Vec3& p : places) {
    const Vec3 at = seen.leftCols<3>() * p + seen.col(3);
    out.push_back({at.head<2>() / at.z(), p});
  }
  return out;
}

// About where a face has corners of eyes and mouth, nose, chin, ears; centimetres.
const std::vector<Vec3>& faceLike() {
  static const std::vector<Vec3> out{{-4.5f, 3, 6},  {4.5f, 3, 6},  {-1.5f, 3, 7}, {1.5f, 3, 7}, {0, 0, 10},
                                     {-2.5f, -4, 7}, {2.5f, -4, 7}, {0, -8, 6},    {-7, 1, -1},  {0, 8, 5}};
  return out;
}

ColorField skinOf(const Document& d) {
  auto stack = prepared(d.layers, *d.maps);
  return compositeOf(linked(std::move(*stack), d.bare, d.surface->size()), d.surface->size(), d.bare);
}

}  // namespace

class TestSlides : public QObject {
  Q_OBJECT
 private slots:
  void aPhotoLandsWhereItWasTaken_data() {
    QTest::addColumn<Camera>("camera");
    QTest::newRow("straight") << cameraFrom({0, 0, 1}, 20);
    QTest::newRow("slanted") << cameraFrom({0.8f, 0.3f, 1}, 24, 40);
    Camera parallel = cameraFrom({0.2f, -0.4f, 1}, 20);
    parallel.parallel = true;
    QTest::newRow("parallel") << parallel;
  }
  void aPhotoLandsWhereItWasTaken() {
    QFETCH(const Camera, camera);
    const Slide slide = test::slideOver(photoOfPlane(camera, 400), camera);
    const SlideView view(slide);
    for (const Vec3& p : {Vec3(0, 0, 0), Vec3(2, 1, 0), Vec3(-2.5f, 2, 0), Vec3(1, -3, 0)}) {
      const auto landing = view.landing(spotAt(p));
      QVERIFY(landing && landing->inside);
      const PictureValue value = view.shown(*landing);
      QVERIFY2(away(value.color, tells(p)) < 4e-3f, qPrintable(QString::number(away(value.color, tells(p)))));
    }
    QVERIFY(!view.landing(spotAt({0, 0, 1e4f})) || !view.landing(spotAt({0, 0, 1e4f}))->inside ||
            camera.parallel);
  }
  void itLiesTurnedMovedAndMirrored() {
    const Camera camera = cameraFrom({0, 0, 1}, 20);
    Slide slide = test::slideOver(photoOfPlane(camera, 300), camera);
    const float half = 20 * std::tan(14 * std::numbers::pi_v<float> / 180);  // scene units of half the view
    slide.turn = 90;
    slide.half = 0.5f;
    slide.middle = {0.2f, 0.1f};
    // the picture's right side is up now; half as large, around another middle
    const auto at = [&](float x, float y) {
      const auto l = SlideView(slide).landing(spotAt(Vec3(0.2f, 0.1f, 0) * half + Vec3(x, y, 0)));
      return SlideView(slide).shown(*l).color;
    };
    QVERIFY(away(at(0, 1), tells({2, 0, 0})) < 5e-3f);
    QVERIFY(away(at(-1, 0), tells({0, 2, 0})) < 5e-3f);
    slide.mirrored = true;
    QVERIFY(away(at(0, 1), tells({-2, 0, 0})) < 5e-3f);
  }
  void pinsHoldPlacesOfThePhotoToTheSkin() {
    const Camera camera = cameraFrom({0.3f, 0.2f, 1}, 20);
    Slide slide = test::slideOver(photoOfPlane(camera, 300), camera);
    for (int i = 0; i < 6; ++i) {
      const float x = static_cast<float>(i % 3) - 1, y = static_cast<float>(i / 3) - 0.5f;
      slide.pins.push_back(
          {{0.3f * x + 0.05f * y * y, 0.4f * y}, {2 * x + 0.3f * y, 2 * y - 0.2f * x * x, 0.1f * x}});
    }
    const SlideView view(slide);
    for (const SlidePin& pin : slide.pins) {
      const auto landing = view.landing(spotAt(pin.onSkin));
      const Vec2 wanted(150 + 150 * pin.onPicture.x(), 150 - 150 * pin.onPicture.y());
      QVERIFY2((landing->pixel - wanted).norm() < 0.05f,
               qPrintable(QString::number((landing->pixel - wanted).norm())));
    }
  }
  void finenessIsPhotoPixelsAcrossASample() {
    const Camera camera = cameraFrom({0, 0, 1}, 20);
    const SlideView view(test::slideOver(photoOfPlane(camera, 400), camera));
    const float pixel = 2 * 20 * std::tan(14 * std::numbers::pi_v<float> / 180) / 400;  // scene units
    const auto landing = view.landing(spotAt({0.5f, 0.2f, 0}, 9 * pixel * pixel));
    QVERIFY(std::abs(view.fineness(*landing) - 3) < 0.02f);
    // turned away by sixty degrees it is squeezed to half, along one way
    SlideView::Spot slanted = spotAt({0, 0, 0}, 9 * pixel * pixel);
    slanted.normal = Vec3(std::sqrt(0.75f), 0, 0.5f);
    QVERIFY(std::abs(view.fineness(*view.landing(slanted)) - 1.5f) < 0.02f);
    QVERIFY(std::abs(view.facing(slanted) - 0.5f) < 1e-4f);
  }
  void theCameraOfAPhotoIsFound_data() {
    QTest::addColumn<Camera>("camera");
    QTest::addColumn<int>("pins");
    QTest::newRow("front") << cameraFrom({0.1f, 0.1f, 1}, 60, 24) << 10;
    QTest::newRow("side") << cameraFrom({1, 0.2f, 0.4f}, 90, 16) << 10;
    QTest::newRow("near") << cameraFrom({-0.5f, -0.3f, 1}, 35, 50) << 8;
    Camera rolled = cameraFrom({0.4f, 0.5f, 1}, 70, 20);
    rolled.turn = rolled.turn * Eigen::AngleAxisf(1.9f, Vec3::UnitZ());
    rolled.target = {1, 2, 3};
    QTest::newRow("rolled") << rolled << 7;
  }
  void theCameraOfAPhotoIsFound() {
    QFETCH(const Camera, camera);
    QFETCH(const int, pins);
    const auto seen = pinsSeen(camera, std::span(faceLike()).first(static_cast<size_t>(pins)));
    const auto found = solveCamera(seen, 1);
    QVERIFY(found);
    QVERIFY2(found->missing < 2e-4f, qPrintable(QString::number(found->missing)));
    QVERIFY2(found->camera.turn.angularDistance(camera.turn) < 0.01f,
             qPrintable(QString::number(found->camera.turn.angularDistance(camera.turn))));
    QVERIFY2(std::abs(found->camera.fieldOfView / camera.fieldOfView - 1) < 0.02f,
             qPrintable(QString::number(found->camera.fieldOfView)));
    QVERIFY((found->camera.eye() - camera.eye()).norm() < 0.03f * camera.distance);
  }
  // pins by hand are off by a few pixels; four of them, or in a plane, still give a camera that sees them
  void uncertainPinsStillGiveACamera() {
    const Camera camera = cameraFrom({0.2f, 0.1f, 1}, 60, 24);
    auto pins = pinsSeen(camera, faceLike());
    for (size_t i = 0; i < pins.size(); ++i)
      pins[i].onPicture +=
          0.004f * Vec2(std::sin(7.f * static_cast<float>(i)), std::cos(5.f * static_cast<float>(i)));
    auto found = solveCamera(pins, 1);
    QVERIFY(found && found->missing < 0.006f);
    QVERIFY(found->camera.turn.angularDistance(camera.turn) < 0.1f);
    found = solveCamera(std::span(pins).first(4), 1);
    QVERIFY(found && found->missing < 0.006f);
    std::vector<Vec3> flat;
    for (const Vec3& p : faceLike()) flat.push_back({p.x(), p.y(), 0});
    found = solveCamera(pinsSeen(camera, flat), 1);
    QVERIFY2(found && found->missing < 1e-3f, qPrintable(QString::number(found->missing)));
  }
  void pinsThatTellNothingAreRefused() {
    const auto pins = pinsSeen(cameraFrom({0, 0, 1}, 60), faceLike());
    QVERIFY(!solveCamera(std::span(pins).first(3), 1));
    std::vector<Vec3> line;
    for (int i = 0; i < 6; ++i) line.push_back({static_cast<float>(i), static_cast<float>(2 * i), 1});
    QVERIFY(!solveCamera(pinsSeen(cameraFrom({0, 0, 1}, 60), line), 1));
    std::vector<CameraPin> odd(5, {{std::nanf(""), 0}, {1, 2, 3}});
    QVERIFY(!solveCamera(odd, 1));
  }
  void aSolvedSlideFitsWithoutBending() {
    const Camera camera = cameraFrom({0.6f, 0.2f, 1}, 60, 24);
    Slide slide = test::slideOver(photoOfPlane(camera, 300), cameraFrom({0, 0, 1}, 40));
    slide.half = 0.4f;
    for (const CameraPin& p : pinsSeen(camera, faceLike())) slide.pins.push_back({p.onPicture, p.inScene});
    float missing = 1;
    const auto solved = withCameraSolved(slide, &missing);
    QVERIFY(solved && missing < 0.1f);
    const PinWarp warp = warpOf(*solved);
    // what is left to bend is nothing
    Slide loose = *solved;
    loose.pins.clear();
    for (const Vec2& x : {Vec2(0.1f, 0.2f), Vec2(-0.7f, 0.5f)})
      QVERIFY((warp(x) - warpOf(loose)(x)).norm() < 2e-3f);
  }
  void aThrowCoversWhatTheCameraSees() {
    Document d = test::documentOf(test::sphere(120, 5));
    const Camera camera = cameraFrom({0, 0, 1}, 40);
    const auto red = test::photo(64, 64, [](float, float) { return LinearColor{0.6f, 0.1f, 0.1f}; });
    d = *withSlide(d, freshSlide("red", red, camera));
    QCOMPARE(d.slides.back().id, d.nextSlide - 1);
    d = *withThrow(d, d.slides.back().id);
    const ColorField skin = skinOf(d);
    const Surface& surface = *d.surface;
    for (uint32_t s = 0; s < surface.size(); s += 7) {
      const EncodedColor c = straight(colorAt(skin, s));
      const float z = surface.positions[s].z() / 5;
      if (z > 0.8f)
        QVERIFY(std::abs(decodeSrgb(c.r) - 0.6f) < 0.01f && std::abs(decodeSrgb(c.g) - 0.1f) < 0.01f);
      if (z < 0.25f) QVERIFY(std::abs(c.r - d.bare.r) < 1e-3f);
    }
  }
  void whatLiesBehindStaysBare() {
    Sculpt behind = test::plane(60, 10, "Wall"), before = test::plane(20, 3, "Flap");
    for (Vec3& v : before.vertices) v.z() = 2;
    Document d = test::documentOf(test::together(behind, before));
    const Camera camera = cameraFrom({0, 0, 1}, 40);
    const auto red = test::photo(32, 32, [](float, float) { return LinearColor{0.6f, 0.1f, 0.1f}; });
    Slide slide = test::slideOver(red, camera);
    slide.id = 0;
    d = *withSlide(d, slide);
    d = *withThrow(d, 1);
    const ColorField skin = skinOf(d);
    int hidden = 0;
    for (uint32_t s = 0; s < d.surface->size(); ++s) {
      const Vec3 p = d.surface->positions[s];
      const bool under = p.z() < 1 && std::abs(p.x()) < 1.2f && std::abs(p.y()) < 1.2f;
      const EncodedColor c = straight(colorAt(skin, s));
      if (under) QVERIFY(c == EncodedColor(straight(opaque16(d.bare))));
      if (p.z() > 1 && p.head<2>().cwiseAbs().maxCoeff() < 1) QVERIFY(c.g < 0.4f);
      if (under) ++hidden;
    }
    QVERIFY(hidden > 50);
  }
  // the same wall by a light and a dark photo, one on each half: no step where they meet
  void seamsAreLevelled() {
    Document d = test::documentOf(test::plane(160, 10));
    const Camera camera = cameraFrom({0, 0, 1}, 40);
    for (const float side : {-1.f, 1.f}) {
      const float bright = side < 0 ? 0.3f : 0.4f;
      Slide slide = test::slideOver(test::photo(64, 64,
                                                [&](float, float) {
                                                  return LinearColor{bright, bright, bright};
                                                }),
                                    camera);
      slide.id = 0;
      slide.half = 0.42f;
      slide.middle = {0.3f * side, 0};
      d = *withSlide(d, slide);
    }
    d = *withThrow(d, 1);
    d = *withThrow(d, 2, d.activeLayer);
    const auto steepest = [&](float level) {
      Throw setting = *throwOf(*layerOf(d, d.activeLayer)->source);
      setting.level = level;
      setting.feather = 0.01f;
      const ColorField skin = skinOf(*withThrowSet(d, d.activeLayer, setting));
      float out = 0;
      for (uint32_t s = 0; s < d.surface->size(); ++s) {
        if (d.surface->positions[s].head<2>().cwiseAbs().maxCoeff() > 2.5f) continue;
        for (const uint32_t n : d.surface->neighborsOf(s))
          out = std::max(out, std::abs(from16(colorAt(skin, s).g) - from16(colorAt(skin, n).g)) /
                                  (d.surface->positions[s] - d.surface->positions[n]).norm());
      }
      return out;
    };
    const float rough = steepest(0), level = steepest(1.5f);
    QVERIFY2(level < 0.4f * rough, qPrintable(QString("%1 %2").arg(level).arg(rough)));
  }
  void detailLiesOverTheToneBelow() {
    Document d = test::documentOf(test::plane(200, 10));
    d = withFillLayer(d, "tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
    const Camera camera = cameraFrom({0, 0, 1}, 40);
    Slide slide = test::slideOver(test::photo(256, 256,
                                              [](float u, float v) {
                                                const bool dark =
                                                    (static_cast<int>(u * 32) + static_cast<int>(v * 32)) % 2;
                                                const float g = dark ? 0.1f : 0.2f;
                                                return LinearColor{0, g, g};
                                              }),
                                  camera);
    slide.id = 0;
    d = *withSlide(d, slide);
    d = *withThrow(d, 1);
    Throw setting = *throwOf(*layerOf(d, d.activeLayer)->source);
    setting.part = PhotoPart::Detail;
    setting.split = 3;
    setting.relief = 0.1f;
    setting.gloss = 1;
    d = *withThrowSet(d, d.activeLayer, setting);
    const ColorField skin = skinOf(d);
    double sum = 0, squares = 0;
    int count = 0;
    for (uint32_t s = 0; s < d.surface->size(); ++s) {
      if (d.surface->positions[s].head<2>().cwiseAbs().maxCoeff() > 3) continue;
      const double g = static_cast<double>(decodeSrgb(straight(colorAt(skin, s)).g));
      sum += g;
      squares += g * g;
      ++count;
    }
    const double mean = sum / count, deviation = std::sqrt(squares / count - mean * mean);
    // the tone's own brightness, with a third either way as the photo has it
    QVERIFY2(std::abs(mean / static_cast<double>(decodeSrgb(0.5f)) - 1) < 0.05,
             qPrintable(QString::number(mean)));
    QVERIFY2(deviation / mean > 0.2 && deviation / mean < 0.4, qPrintable(QString::number(deviation / mean)));
    const LayerPointer layer = layerOf(d, d.activeLayer);
    QVERIFY(layer->source->channels() == (ChannelSet(Channel::Color) | Channel::Relief | Channel::Gloss));
    const auto stack = prepared(d.layers, *d.maps);
    const auto heights = stack->back().source->heights(Channel::Relief, ChunkAsk(0));
    QVERIFY(heights && std::ranges::any_of(heights->plane[0], [](uint16_t h) { return h > kLevel + 10; }));
    QVERIFY(std::ranges::any_of(heights->plane[0], [](uint16_t h) { return h < kLevel - 10; }));
  }
  void theLayerFollowsItsSlide() {
    Document d = test::documentOf(test::plane(60, 10));
    const Camera camera = cameraFrom({0, 0, 1}, 40);
    Slide slide = test::slideOver(test::photo(16, 16,
                                              [](float, float) {
                                                return LinearColor{0.5f, 0, 0};
                                              }),
                                  camera);
    slide.id = 0;
    d = *withThrow(*withSlide(d, slide), 1);
    Slide moved = d.slides.front();
    moved.middle = {50, 0};
    const Document after = *withSlide(d, moved);
    QVERIFY(throwOf(*layerOf(after, d.activeLayer)->source)->slides.front() == moved);
    QVERIFY(prepared(after.layers, *after.maps)->back().source->note().find("no skin") != std::string::npos);
    QVERIFY(!withSlide(d, [&] {
      Slide s = moved;
      s.id = 77;
      return s;
    }()));
    QVERIFY(!withThrow(d, 77) && !withThrow(d, 1, d.activeLayer) && !withoutSlide(d, 3));
    QCOMPARE(withoutSlide(d, 1)->slides.size(), size_t{0});
  }
  void slidesGoThroughAFile() {
    const test::Folder folder;
    Document d = test::documentOf(test::plane(40, 10));
    // a picture the store can read again has the bytes of a file
    std::vector<uint32_t> pixels(32 * 24, 0xff8050a0u);
    const auto png = encodePng({32, 24}, pixels);
    const PicturePointer picture = *decodePicture(*png, "a.png");
    Slide slide = freshSlide("Bank", picture, cameraFrom({0.3f, 0, 1}, 40));
    slide.pins = {{{0.1f, 0.2f}, {1, 2, 0}}, {{-0.3f, 0.1f}, {-1, 1, 0}}};
    slide.turn = 33;
    slide.mirrored = true;
    slide.tone.even = 0.5f;
    slide.tone.light = WayLight{};
    (*slide.tone.light)[1][2] = 0.25f;
    slide.tone.to.mean = {0.4f, 0.1f, 0.05f};
    d = *withThrow(*withSlide(d, slide), 1);
    const History h(d, "Throw");
    QVERIFY(saveAs(folder / "w.juvenor", std::vector(h.steps().begin(), h.steps().end()), h.steps()[0]->id));
    const auto opened = Store::open(folder / "w.juvenor")->read();
    QVERIFY2(opened, opened ? "" : qPrintable(QString::fromStdString(opened.error().message())));
    const Document& again = opened->steps.back()->document;
    QCOMPARE(again.slides.size(), size_t{1});
    QVERIFY(again.slides.front().picture && again.slides.front().picture->pixels == picture->pixels);
    Slide same = again.slides.front();
    same.picture = picture;
    QVERIFY(same == d.slides.front());
    const Throw* thrown = throwOf(*layerOf(again, d.activeLayer)->source);
    QVERIFY(thrown && thrown->slides.front().picture == again.slides.front().picture);
    QVERIFY(test::sameValues(skinOf(again), skinOf(d)));
    QVERIFY(picturesOf(again).size() == 1);
  }
  void badSlidesAreRefusedWithWords_data() {
    QTest::addColumn<QString>("key");
    QTest::addColumn<QString>("value");
    QTest::newRow("no number") << "id"
                               << "\"a\"";
    QTest::newRow("camera") << "camera"
                            << "{\"turn\": [0, 0, 0], \"turn w\": 0}";
    QTest::newRow("middle") << "middle"
                            << "[1]";
    QTest::newRow("pins") << "pins"
                          << "[{\"picture\": [1, 2]}]";
    QTest::newRow("tone") << "tone"
                          << "{\"light\": {\"red\": [1, 2]}}";
    QTest::newRow("spread") << "tone"
                            << "{\"to\": {\"deviation\": [-1, 0, 0]}}";
    QTest::newRow("unknown") << "colour"
                             << "1";
  }
  void badSlidesAreRefusedWithWords() {
    QFETCH(const QString, key);
    QFETCH(const QString, value);
    const Slide slide =
        test::slideOver(test::photo(4, 4, [](float, float) { return LinearColor{}; }), Camera{});
    nlohmann::json state = toJson(slide);
    QVERIFY(slideFromJson(state));
    state[key.toStdString()] = nlohmann::json::parse(value.toStdString());
    const auto read = slideFromJson(state);
    QVERIFY(!read);
    QVERIFY2(read.error().what.find("slide") != std::string::npos, read.error().what.c_str());
    QVERIFY(!makeSource("slide", {{"slides", {state}}}, 10));
  }
  void aTurnedSculptTakesItsSlidesAlong() {
    Document d = test::documentOf(test::sphere(60, 5));
    const Camera camera = cameraFrom({0.3f, 0.4f, 1}, 40);
    Slide slide = test::slideOver(photoOfPlane(camera, 100), camera);
    slide.id = 0;
    slide.pins = {{{0, 0}, {0, 0, 5}}};
    d = *withThrow(*withSlide(d, slide), 1);
    Placement upright = d.placement;
    upright.up = *axisFromKey("z");
    upright.front = *axisFromKey("-y");
    const auto turned = withPlacement(d, upright);
    QVERIFY2(turned, turned ? "" : turned.error().what.c_str());
    const ColorField before = skinOf(d), after = skinOf(*turned);
    double worst = 0;
    for (uint32_t s = 0; s < before.size(); ++s)
      worst = std::max(worst, static_cast<double>(std::abs(int(before.at(s)[0]) - int(after.at(s)[0]))));
    QVERIFY2(worst < 700, qPrintable(QString::number(worst)));
  }
};

JUVENOR_TEST(TestSlides)

}  // namespace juvenor

#include "test_slides.moc"
