#include "core/render/still.h"

#include "core/layers/composite/composite.h"
#include "core/surface/maps/polygon_lines.h"

namespace juvenor {

ShadeInput shadeInputOf(const Surface& surface, const ChannelFields& skin, std::span<const LitSample> lit,
                        const StillSetting& setting) {
  ShadeInput input;
  input.surface = &surface;
  input.skin = &skin;
  input.lit = lit;
  input.camera = setting.camera;
  input.light = setting.light;
  input.view = setting.view;
  input.channel = setting.channel;
  input.background = setting.background;
  return input;
}

Result<std::vector<uint32_t>> stillOf(const Document& document, const StillSetting& setting,
                                      const Progress& progress) {
  const bool lit = setting.view == View::Clay || setting.view == View::Skin;
  const auto made = ShownScene::of(document, setting.view == View::Skin && !setting.map,
                                   [&](float f) { return report(progress, 0.3f * f); });
  if (!made) return made.error();
  ShownScene& scene = **made;
  if (lit)
    if (const Outcome laid =
            scene.setLight(setting.light, viewAxes(setting.camera), setting.view == View::Skin,
                           [&](float f) { return report(progress, 0.3f + 0.5f * f); });
        !laid)
      return laid.error();
  if (!report(progress, 0.8f)) return cancelledError();
  ShadeInput input = scene.input(setting.camera, setting.view);
  input.light = setting.light;
  input.background = setting.background;
  input.channel = setting.channel;
  if (setting.channel.height == 0)
    input.channel.height = highestOf(scene.skin().get<Channel::Relief>(), document.reliefStep);
  std::shared_ptr<const PolygonLines> lines;
  if (setting.lines) {
    const auto found = polygonLinesOf(*document.maps, *document.sculpt);
    if (!found) return found.error();
    lines = *found;
    input.lines = *lines;
  }
  std::shared_ptr<const ScalarField> shown;
  if (setting.map) {
    const auto map = maskOf(*document.maps, {*setting.map}, progress);
    if (!map) return map.error();
    shown = *map;
    input.overlay = shown.get();
    input.overlayLook = OverlayLook::FalseColor;
  }
  auto pixels = picture(scene.rays(), input, setting.size, document.hiddenParts, kSettledEdgeRays);
  if (setting.view == View::Value && setting.check.active()) {
    VisibilityImage seen;
    castVisibility(scene.rays(), setting.camera, setting.size, {0.5f, 0.5f}, document.hiddenParts, seen);
    checkValues(setting.check, seen, pixels);
  }
  return pixels;
}

namespace {

// Up to so many samples are looked at one by one; of more the boxes of 256 are near enough, and a window that
// is being resized need not wait.
constexpr size_t kFewSamples = 200'000;

void addCorners(const Box& box, std::vector<Vec3>& out) {
  for (int corner = 0; corner < 8; ++corner)
    out.emplace_back((corner & 1 ? box.high : box.low).x(), (corner & 2 ? box.high : box.low).y(),
                     (corner & 4 ? box.high : box.low).z());
}

}  // namespace

std::vector<Vec3> shownPoints(const Document& document, uint32_t part) {
  const Surface& surface = *document.surface;
  const auto shown = [&](uint32_t p) {
    return (part == kNone || p == part) && !document.hiddenParts.contains(p);
  };
  std::vector<Vec3> out;
  if (surface.size() <= kFewSamples) {
    for (size_t s = 0; s < surface.size(); ++s)
      if (shown(surface.parts[s])) out.push_back(surface.positions[s]);
    return out;
  }
  for (size_t b = 0; b < surface.blocks.size(); ++b) {
    const size_t begin = b * kBlockSize, end = std::min(surface.size(), begin + kBlockSize);
    // parts follow each other in the order of samples; where one ends in a block each sample counts for
    // itself
    if (surface.parts[begin] == surface.parts[end - 1]) {
      if (shown(surface.parts[begin])) addCorners(surface.blocks[b], out);
      continue;
    }
    for (size_t s = begin; s < end; ++s)
      if (shown(surface.parts[s])) out.push_back(surface.positions[s]);
  }
  return out;
}

Result<std::vector<uint32_t>> portraitOf(const Document& document, const ViewSize& size) {
  constexpr float kDegrees = 28;
  StillSetting still;
  still.size = size;
  still.camera = turned(still.camera, Vec2(kDegrees / kDegreesPerPixel, 0));
  still.camera = framed(still.camera, size, shownPoints(document));
  return stillOf(document, still);
}

}  // namespace juvenor
