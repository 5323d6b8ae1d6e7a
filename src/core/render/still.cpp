#include "core/render/still.h"

#include "core/hair/grown_hair.h"
#include "core/layers/composite/composite.h"
#include "core/render/spread_light.h"
#include "core/surface/maps/polygon_lines.h"

namespace juvenor {

Light lightOn(const Document& document, Light light) {
  if (!hasColor(document)) light.depth = 0;
  return light;
}

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

namespace {

Outcome spreadNow(Lighting& lighting, SurfaceMaps& maps, const Progress& progress) {
  const auto received = lighting.toSpread();
  if (!received) return Done{};
  const auto spread =
      spreadLight(*received, maps, [&](float f) { return report(progress, 0.6f + 0.2f * f); });
  if (!spread) return spread.error();
  (void)lighting.takeSpread(*spread, received->counter);
  return Done{};
}

}  // namespace

Result<std::vector<uint32_t>> stillOf(const Document& document, const StillSetting& setting,
                                      const Progress& progress) {
  const Surface& surface = *document.surface;
  const auto shared = document.maps->rays(progress);
  if (!shared) return shared.error();
  const Rays& rays = **shared;
  if (!report(progress, 0.2f)) return cancelledError();
  const auto skin = skinOf(document.layers, *document.maps, document.bare);
  if (!skin) return skin.error();
  const ReliefNormals relief =
      reliefNormals(document.surface, skin->get<Channel::Relief>(), kLevel, document.reliefStep);
  std::optional<Lighting> lighting;
  if (setting.view == View::Clay || setting.view == View::Skin) {
    lighting.emplace(document.surface);
    lighting->setMillimetres(document.placement.millimetres);
    lighting->setHidden(document.hiddenParts);
    lighting->setLight(lightOn(document, setting.light), viewAxes(setting.camera));
    if (!lighting->settle(rays, [&] { return !report(progress, 0.5f); })) return cancelledError();
    if (setting.view == View::Skin)
      if (const Outcome spread = spreadNow(*lighting, *document.maps, progress); !spread)
        return spread.error();
  }
  if (!report(progress, 0.8f)) return cancelledError();
  ShadeInput input =
      shadeInputOf(surface, *skin, lighting ? lighting->samples() : std::span<const LitSample>(), setting);
  if (relief.any()) input.relief = &relief;
  input.reliefStep = document.reliefStep;
  if (setting.channel.height == 0)
    input.channel.height = highestOf(skin->get<Channel::Relief>(), document.reliefStep);
  const std::vector<Cornea> corneas = corneasOf(document.layers);
  input.corneas = corneas;
  input.rays = &rays;
  if (lighting) {
    input.open = lighting->open();
    input.received = lighting->received();
    input.by = &lighting->light();
  }
  FibreRaysPointer hair;
  if (setting.view == View::Skin && !setting.map) {
    auto grown = grownHair(document, progress);
    if (!grown) return grown.error();
    hair = std::move(*grown);
    input.hair = hair.get();
  }
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
  auto pixels = picture(rays, input, setting.size, document.hiddenParts, kSettledEdgeRays);
  if (setting.view == View::Value && setting.check.active()) {
    VisibilityImage seen;
    castVisibility(rays, setting.camera, setting.size, {0.5f, 0.5f}, document.hiddenParts, seen);
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
