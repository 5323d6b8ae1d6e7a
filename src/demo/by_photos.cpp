// The keeper's head coloured by photos: pictures of the painted head from around it, as a photographer would
// take them in even light, are thrown onto the bare sculpt; where no photo reaches a plain tone lies beneath.
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/edits.h"
#include "core/photo/picture_file.h"
#include "core/render/still.h"
#include "demo/demo.h"

namespace juvenor::demo {
namespace {

constexpr ViewSize kPhotoSize{1400, 1400};

struct Shot {
  const char* name;
  float around, up;  ///< degrees
  bool underLamps = false;
};
constexpr Shot kShots[] = {{"front", 0, 0},
                           {"left", 50, 5},
                           {"right", -50, 5},
                           {"far left", 100, 0},
                           {"far right", -100, 0},
                           {"from above", 15, 45},
                           {"in lamp light", 0, 0, true}};

Result<Slide> photographed(const Document& head, const Shot& shot, const Progress& progress) {
  StillSetting setting;
  setting.camera = framed(turned(Camera{}, Vec2(-shot.around, shot.up) / kDegreesPerPixel), kPhotoSize,
                          head.surface->bounds);
  setting.size = kPhotoSize;
  setting.view = shot.underLamps ? View::Skin : View::Flat;
  setting.light.kind = LightKind::Lamps;
  const auto pixels = stillOf(head, setting, progress);
  if (!pixels) return pixels.error();
  auto png = encodePng(kPhotoSize, *pixels);
  if (!png) return png.error();
  auto picture = decodePicture(std::move(*png), shot.name);
  if (!picture) return picture.error();
  Slide out = freshSlide(shot.name, std::move(*picture), setting.camera);
  out.half = 1;  // as the camera saw it
  return out;
}

}  // namespace

Result<Document> byPhotos(const Document& head, const Progress& progress) {
  Document d = head;
  d.layers.clear();
  d.activeLayer = 0;
  d = withFillLayer(d, "Under the photos", Stratum::Flesh, {0.72f, 0.54f, 0.44f});
  std::optional<uint32_t> onto;
  for (const Shot& shot : kShots) {
    const auto slide = photographed(head, shot, progress);
    if (!slide) return slide.error();
    auto next = withSlide(d, *slide);
    if (!next) return next;
    d = std::move(*next);
    // what is lit from a side waits to be evened
    if (shot.underLamps) continue;
    auto thrown = withThrow(d, d.slides.back().id, onto);
    if (!thrown) return thrown;
    d = std::move(*thrown);
    if (!onto) {
      onto = d.activeLayer;
      LayerChange name;
      name.name = "Photos from around";
      thrown = withLayerChanged(d, *onto, name);
      if (!thrown) return thrown;
      d = std::move(*thrown);
    }
  }
  return withPaintedLayer(d, "Your strokes", Stratum::Surface);
}

}  // namespace juvenor::demo
