// What photos cost: painting through one, moving one before the eye, throwing one and six of them.
#include <fmt/format.h>

#include "core/document/edits/edit_slides.h"
#include "core/document/edits/paint_stroke.h"
#include "core/layers/prepared_layer.h"
#include "core/noise/noise.h"
#include "core/render/slide_picture.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

constexpr int kPhotoWide = 6000, kPhotoHigh = 4000;

// Twenty-four million pixels of clouds.
PicturePointer largePhoto() {
  auto out = std::make_shared<PictureData>();
  out->width = kPhotoWide;
  out->height = kPhotoHigh;
  out->fingerprint = 24;
  std::vector<uint8_t> row(kPhotoWide + kPhotoHigh);
  for (size_t i = 0; i < row.size(); ++i)
    row[i] = static_cast<uint8_t>(128 + 90 * perlin(Vec3(0.013f * static_cast<float>(i), 0.4f, 0.7f), 3));
  out->pixels.reserve(size_t{kPhotoWide} * kPhotoHigh);
  for (size_t y = 0; y < kPhotoHigh; ++y)
    for (size_t x = 0; x < kPhotoWide; ++x) {
      const uint32_t v = row[x + y / 2];
      out->pixels.push_back(0xff000000u | v << 16 | (v * 3 / 4) << 8 | v / 2);
    }
  return out;
}

Slide slideFrom(const Document& d, const PicturePointer& photo, float around, float up) {
  Camera camera = turned(Camera{}, Vec2(around, up) / kDegreesPerPixel);
  camera = framed(camera, {kPhotoWide, kPhotoHigh}, d.surface->bounds);
  Slide out = freshSlide("photo", photo, camera);
  out.half = 1.5f;
  return out;
}

// Seconds a sample under dabs that go over one stretch of skin again and again.
double secondsASample(const Document& d, const std::shared_ptr<const SlidePaint>& slide, const char* name) {
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint.color = {0.7f, 0.3f, 0.2f};
  setting.brush.radius = 25 * d.surface->spacing;
  setting.brush.flow = 0.02f;
  setting.brush.pressureSize = setting.brush.pressureFlow = false;
  setting.slide = slide;
  const auto rays = *d.maps->rays();
  std::vector<SurfacePoint> way;
  for (int i = 0; i < 160; ++i)
    if (const auto p = rays->nearest({0.5f * static_cast<float>(i) - 40, 70, 86}, 40)) way.push_back(*p);
  for (SurfacePoint& p : way) p.toViewer = p.normal;
  Flood flood;
  size_t reached = 1;
  const double seconds = leastSecondsOf(
      name,
      [&] {
        auto stroke = PaintStroke::begin(d, setting, flood);
        for (const SurfacePoint& p : way) (*stroke)->stroke().moveTo(p, 1);
        reached = (*stroke)->stroke().reached();
      },
      7);
  return seconds / static_cast<double>(reached);
}

}  // namespace

void benchPhotos() {
  const Document& d = ferryman(2'000'000);
  const PicturePointer photo = largePhoto();
  const Slide front = slideFrom(d, photo, 0, 0);
  const auto pyramid = pyramidOf(photo);
  const double lay = secondsASample(d, nullptr, "lay");
  auto paint = std::make_shared<SlidePaint>();
  paint->slide = front;
  const double through = secondsASample(d, paint, "through a slide");
  add({"Painting through a slide, a sample, 2 M points", fmt::format("{:.1f} ns", through * 1e9),
       fmt::format("laying a colour: {:.1f} ns", lay * 1e9), fmt::format("{:.1f}", through / lay), "≤ 3"});

  const SlideView view(front);
  const double moved = secondsOf("slide moved", [&] { (void)drawnSlide(view, {1280, 800}, 0.5f); });
  Slide pinned = front;
  for (int i = 0; i < 8; ++i) {
    const float x = 0.3f * static_cast<float>(i % 3 - 1), y = 0.3f * static_cast<float>(i / 3 - 1);
    pinned.pins.push_back({{x, y}, front.camera.target + Vec3(120 * x, 110 * y + 8 * x * x, 0)});
  }
  const SlideView bent(pinned);
  const double warped = secondsOf("pinned slide moved", [&] { (void)drawnSlide(bent, {1280, 800}, 0.5f); });
  for (const auto& [what, seconds] : {std::pair("A slide of 24 megapixels moved, 1280 × 800", moved),
                                      {"The same slide bent by 8 pins", warped}})
    add({what, fmt::format("{:.0f} pictures a second", 1 / seconds), "aim of 20",
         fmt::format("{:.2f}", 1 / (20 * seconds)), "≥ 1"});

  // each time from a camera of its own: nothing is remembered
  int turn = 0;
  const auto thrown = [&](int count) {
    Throw setting = *throwOf(*sourceKind("slide")->fresh(*d.surface, {}));
    for (int i = 0; i < count; ++i)
      setting.slides.push_back(
          slideFrom(d, photo, 60.f * static_cast<float>(i) + 0.1f * static_cast<float>(++turn), 0));
    if (!throwSource(setting)->prepare(*d.maps)) std::abort();
  };
  (void)d.maps->ladder();
  const double one = secondsOf(
                   "throw", [&] { thrown(1); }, 3),
               six = secondsOf(
                   "six thrown", [&] { thrown(6); }, 3);
  add({"A slide of 24 megapixels thrown, 2 M points", milliseconds(one), "aim of 1.5 s",
       fmt::format("{:.2f}", one / 1.5), "≤ 1"});
  add({"Six slides thrown and levelled, 2 M points", milliseconds(six), "aim of 6 s",
       fmt::format("{:.2f}", six / 6), "≤ 1"});
}

}  // namespace juvenor::bench
