#include "demo/markings.h"

#include <algorithm>
#include <cmath>

#include "core/brush/brush_roll.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/place_stamp.h"
#include "core/document/edits/usual_markings.h"
#include "demo/colors.h"
#include "demo/keeper.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

Result<Document> marked(const Document& document, const char* name, SourcePointer source, BlendMode blend,
                        float opacity) {
  const Document d = withSourceLayer(document, name, Stratum::Pigment, std::move(source));
  LayerChange change;
  change.blend = blend;
  change.opacity = opacity;
  return withLayerChanged(d, d.activeLayer, change);
}

HueZone root(const Vec3& at, float reach, uint32_t part, bool mirrored, float strength = 1) {
  HueZone out;
  out.anchor = at;
  out.reach = reach;
  out.part = part;
  out.mirrored = mirrored;
  out.strength = strength;
  return out;
}

Speckle spots(const char* color, float smallest, float largest, float cover) {
  Speckle out;
  out.color = hex(color);
  out.smallest = smallest;
  out.largest = largest;
  out.cover = cover;
  return out;
}

Veins threads(const char* color, float width, float finest, float spacing, float depth) {
  Veins out;
  out.color = hex(color);
  out.width = width;
  out.finest = finest;
  out.spacing = spacing;
  out.depth = depth;
  out.fan = 1;
  return out;
}

// A ferry on the river in a ring, as a tattooist would cut it: 1 where there is ink.
float ferryInk(float x, float y) {
  const float out = std::hypot(x, y);
  const auto line = [](float distance, float width) {
    return smoothstep(width, 0.6f * width, std::abs(distance));
  };
  float ink = std::max(line(out - 0.93f, 0.03f), line(out - 0.84f, 0.016f));
  if (out > 0.82f) return ink;
  // hull: a bowl, its top straight
  const float bowl = std::hypot(x / 0.56f, (y + 0.08f) / 0.3f);
  if (y < -0.06f) ink = std::max(ink, smoothstep(1.02f, 0.98f, bowl));
  ink = std::max(ink, y > -0.1f && y < 0.62f ? line(x + 0.02f, 0.03f) : 0.f);  // mast
  // sail, with seams left bare
  const float sail = std::min({x - 0.04f, 0.5f - 0.9f * x - 0.95f * (y - 0.1f), y - 0.02f});
  if (sail > 0)
    ink = std::max(ink, smoothstep(0.f, 0.03f, sail) *
                            (std::abs(std::fmod(y + 1, 0.16f) - 0.08f) < 0.014f ? 0.15f : 1.f));
  const float pole = std::min({-0.1f - x, x + 0.55f, 0.05f - std::abs(y - 0.12f - 0.62f * (x + 0.32f))});
  if (pole > 0) ink = std::max(ink, line(y - 0.12f - 0.62f * (x + 0.32f), 0.026f));
  for (int wave = 0; wave < 3; ++wave) {
    const float at = -0.42f - 0.11f * static_cast<float>(wave) +
                     0.03f * std::sin(13 * x + 1.9f * static_cast<float>(wave));
    ink = std::max(ink, line(y - at, 0.02f));
  }
  return ink;
}

// Laid years ago: blue-green by now, and not all there.
Result<Document> tattooed(const Document& document) {
  Document d = withPaintedLayer(document, "Tattoo", Stratum::Pigment);
  LayerChange change;
  change.opacity = 0.72f;
  change.blend = BlendMode::Multiply;
  d = *withLayerChanged(d, d.activeLayer, change);
  const auto rays = d.maps->rays();
  if (!rays) return rays.error();
  const auto at = (*rays)->nearest({86, -84, 44}, 80);
  if (!at) return Error{"the tattoo found no shoulder"};
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint = hex("#3f5a5e");
  setting.brush.tip = TipKind::Stamp;
  setting.brush.stamp.stamp = ferryStamp();
  Flood flood;
  return withStampPlaced(d, setting, *at, Vec3(1, -0.25f, 0), 21, flood);
}

Result<Document> keeperVessels(Document d) {
  auto out = marked(d, "Temple veins", veinSource(usualVeins(d)), BlendMode::Normal, 0.4f);
  if (!out) return out;
  Veins broken = threads("#8e2f33", 0.8f, 0.3f, 3, 0.1f);
  broken.roots = {root({11, 25, 97}, 13, 0, true), root({40, 36, 70}, 17, 0, true, 0.8f),
                  root({47, 22, 68}, 14, 0, true, 0.7f)};
  broken.seed = 5;
  return marked(*out, "Broken veins", veinSource(broken), BlendMode::Normal, 0.55f);
}

}  // namespace

StampPointer ferryStamp() {
  constexpr int kEdge = 512;
  StampLevel full;
  full.width = full.height = kEdge;
  full.shape.resize(static_cast<size_t>(kEdge) * kEdge);
  for (int y = 0; y < kEdge; ++y)
    for (int x = 0; x < kEdge; ++x)
      full.shape[static_cast<size_t>(y) * kEdge + static_cast<size_t>(x)] = static_cast<uint16_t>(
          std::lround(65535 * ferryInk(2 * (static_cast<float>(x) + 0.5f) / kEdge - 1,
                                       1 - 2 * (static_cast<float>(y) + 0.5f) / kEdge)));
  return std::make_shared<const Stamp>("Ferry", std::move(full));
}

Result<Document> keeperMarkings(Document document) {
  auto d = marked(document, "Mottling", mottleSource(usualMottling(document)), BlendMode::Blood, 0.9f);
  if (!d) return d;
  Speckle sun = spots("#7a4a30", 2, 7, 0.035f);
  sun.ragged = 0.8f;
  sun.density = usualFreckles(document).density;
  sun.seed = 7;
  d = marked(*d, "Sun spots", speckleSource(sun), BlendMode::Melanin, 0.55f);
  if (d) d = marked(*d, "Freckles", speckleSource(usualFreckles(*d)), BlendMode::Melanin, 0.85f);
  Speckle moles = spots("#4a2a1c", 1.6f, 3.6f, 0.0016f);
  moles.raised = 0.9f;
  moles.height = 0.7f;
  moles.softness = 0.35f;
  moles.ragged = 0.3f;
  moles.seed = 11;
  if (d) d = marked(*d, "Moles", speckleSource(moles), BlendMode::Normal, 0.85f);
  if (d) d = keeperVessels(*d);
  return d ? tattooed(*d) : d;
}

Result<Document> ferrymanMarkings(Document document) {
  Mottle marsh;
  marsh.tones = {{hex("#3f4630"), 0.42f}, {hex("#8d8a5e"), 0}, {hex("#b59a6a"), 0.34f}};
  marsh.size = 34;
  marsh.fine = 8;
  marsh.bend = 0.55f;
  marsh.crease = 5;
  auto d = marked(document, "Marsh mottle", mottleSource(marsh), BlendMode::Normal, 0.7f);
  if (!d) return d;
  MaskTerm up;
  up.map = {&kFacingMap, 0, Vec3(0, 0.9f, -0.43f), 1};
  up.low = 0.72f;
  up.fade = 0.45f;
  Speckle river = spots("#2c2a1e", 2.5f, 15, 0.24f);
  river.density = {up};
  river.ragged = 0.85f;
  river.softness = 0.25f;
  river.fade = 0.35f;
  river.raised = 0.3f;
  river.height = 0.5f;
  d = marked(*d, "River spots", speckleSource(river), BlendMode::Stain, 0.75f);
  Speckle bursts = spots("#b4562f", 1.1f, 3.4f, 0.5f);
  bursts.everywhere = 0;
  bursts.gather = {root({70, 44, 44}, 46, kNone, true, 0.9f), root({24, 70, 96}, 34, kNone, true, 0.7f),
                   root({60, -40, 10}, 55, kNone, true, 0.6f)};
  for (HueZone& zone : bursts.gather) {
    zone.breakUp = 0.7f;
    zone.softness = 0.45f;
    zone.grain = 12;
  }
  bursts.ragged = 0.7f;
  bursts.seed = 3;
  if (d) d = marked(*d, "Rust bursts", speckleSource(bursts), BlendMode::Normal, 0.75f);
  Veins gills = threads("#5e1420", 1.6f, 0.4f, 5, 0.2f);
  gills.roots = {root({66, -8, -6}, 34, 3, true), root({66, -27, -6}, 34, 3, true),
                 root({66, -46, -6}, 34, 3, true)};
  if (d) d = marked(*d, "Gill vessels", veinSource(gills), BlendMode::Normal, 0.7f);
  Veins fins = threads("#5a3420", 2.2f, 0.5f, 7, 0.3f);
  fins.roots = {root({0, 128, 10}, 60, 4, false), root({0, 128, -35}, 70, 4, false),
                root({0, 110, -75}, 70, 4, false)};
  fins.toward = Vec3::UnitY();
  fins.fan = 0.5f;
  if (d) d = marked(*d, "Fin vessels", veinSource(fins), BlendMode::Normal, 0.6f);
  return d;
}

}  // namespace juvenor::demo
