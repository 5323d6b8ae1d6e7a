// Photos of a painted head, thrown onto the bare one: what comes back is what was photographed.
#include <cmath>

#include "core/color/lab.h"
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/tone_slides.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/render/still.h"
#include "demo/demo.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr ViewSize kPhoto{800, 800};
constexpr size_t kPoints = 40'000;
constexpr float kGreyCard = 0.38f;  // stops

// Without his down and hair, which lie over all colour and are none.
const Document& keeper() {
  static const Document out = [] {
    const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Keeper, kPoints));
    Document d = *demo::dressed(demo::Figure::Keeper, sculpt, *buildSurface(*sculpt));
    LayerChange bare;
    bare.visible = false;
    for (const std::string name : {"Down", "Hair"}) {
      const auto layer = std::ranges::find(d.layers, name, [](const LayerPointer& l) { return l->name; });
      d = *withLayerChanged(d, (*layer)->id, bare);
    }
    return d;
  }();
  return out;
}

// From the front, from both sides, half way between, and from above.
std::vector<Camera> sixCameras() {
  std::vector<Camera> out;
  for (const auto& [around, up] :
       {std::pair(0.f, 0.f), {50.f, 5.f}, {-50.f, 5.f}, {100.f, 0.f}, {-100.f, 0.f}, {15.f, 45.f}}) {
    Camera camera = turned(Camera{}, Vec2(-around, up) / kDegreesPerPixel);
    out.push_back(framed(camera, kPhoto, keeper().surface->bounds));
  }
  return out;
}

PicturePointer photoFrom(const Camera& camera, View view, const Light& light) {
  StillSetting setting;
  setting.camera = camera;
  setting.size = kPhoto;
  setting.view = view;
  setting.light = light;
  auto out = std::make_shared<PictureData>();
  out->width = kPhoto.width;
  out->height = kPhoto.height;
  out->pixels = *stillOf(keeper(), setting);
  static uint64_t next = 1000;
  out->fingerprint = next++;
  return out;
}

// Two large lamps that stand beside the camera, wherever that is, as for photos of skin (common practice);
// the exposure such that the skin is as bright as it is, as a grey card tells.
Light lampsBeside(const Camera& camera) {
  const Vec3 viewer = camera.back();
  Light out;
  out.kind = LightKind::Lamps;
  out.dial = std::atan2(viewer.x(), viewer.z()) * 57.29578f;
  out.lamps = {
      {{true, -40, 35, 0.7f, 25, 6504}, {true, 35, 20, 0.4f, 40, 6504}, {false, 0, 0, 0, 10, 6504}, {false}}};
  out.exposure = kGreyCard;
  return out;
}

std::vector<PicturePointer> photosOf(View view, const std::function<Light(const Camera&)>& light) {
  std::vector<PicturePointer> out;
  for (const Camera& camera : sixCameras()) out.push_back(photoFrom(camera, view, light(camera)));
  return out;
}

// The bare head with a slide for each camera, all thrown on one layer.
Document thrownBack(std::span<const PicturePointer> photos, bool evened = false) {
  Document d = newDocument(keeper().sculpt, keeper().surface);
  d.layers.clear();
  d.activeLayer = 0;
  const std::vector<Camera> cameras = sixCameras();
  for (size_t i = 0; i < cameras.size(); ++i) {
    Slide slide = freshSlide("photo", photos[i], cameras[i]);
    slide.half = 1;
    if (evened) slide = *withLightFitted(d, slide);
    d = *withSlide(d, slide);
    const uint32_t id = d.slides.back().id;
    d = *withThrow(d, id, d.layers.empty() ? std::nullopt : std::optional(d.activeLayer));
  }
  return d;
}

ColorField colorsOf(const Document& d) {
  auto stack = prepared(d.layers, *d.maps);
  return compositeOf(linked(std::move(*stack), d.bare, d.surface->size()), d.surface->size(), d.bare);
}

struct Difference {
  double mean = 0, seen = 0;  ///< ΔE2000; the part of the skin that was covered
};

Difference compared(const Document& d) {
  const ColorField wanted = colorsOf(keeper()), found = colorsOf(d);
  const auto stack = *prepared(d.layers, *d.maps);
  Difference out;
  double area = 0, whole = 0;
  for (size_t c = 0; c < found.chunkCount(); ++c) {
    const auto own = ownChunk(stack, d.activeLayer, d.bare, c);
    const size_t end = std::min(found.size(), (c + 1) * kChunkSize);
    for (size_t s = c * kChunkSize; s < end; ++s) {
      const auto a = static_cast<double>(d.surface->areas[s]);
      whole += a;
      if (!own || own->plane[3][s % kChunkSize] < 60000) continue;
      out.mean += a * deltaE2000(toLab(straight(colorAt(wanted, s))), toLab(straight(colorAt(found, s))));
      area += a;
    }
  }
  out.mean /= area;
  out.seen = area / whole;
  return out;
}

}  // namespace

class TestPhotoRoundTrip : public QObject {
  Q_OBJECT
 private slots:
  void sixStillsBringTheSkinBack() {
    const Document d = thrownBack(photosOf(View::Flat, [](const Camera&) { return Light(); }));
    const Difference off = compared(d);
    qInfo("mean dE %.2f over %.0f %% of the skin", off.mean, 100 * off.seen);
    QVERIFY2(off.mean < 1.5, qPrintable(QString::number(off.mean)));
    QVERIFY2(off.seen > 0.5, qPrintable(QString::number(off.seen)));
  }
  void lampsAreTakenOff() {
    const auto photos = photosOf(View::Skin, lampsBeside);
    const Difference lit = compared(thrownBack(photos)), off = compared(thrownBack(photos, true));
    qInfo("mean dE %.2f, as photographed %.2f", off.mean, lit.mean);
    QVERIFY2(off.mean < 3, qPrintable(QString::number(off.mean)));
    QVERIFY2(lit.mean > 1.5 * off.mean, qPrintable(QString::number(lit.mean)));
  }
};

JUVENOR_TEST(TestPhotoRoundTrip)

}  // namespace juvenor

#include "test_photo_round_trip.moc"
