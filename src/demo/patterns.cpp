#include "demo/patterns.h"

#include <algorithm>
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/map_field.h"
#include "demo/colors.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

// A mask painted by a function of the place, its normal and its part, 0…1.
template <class ShowsAt>
Result<Document> masked(const Document& document, ShowsAt showsAt) {
  const Surface& surface = *document.surface;
  const ScalarField mask = mapField(openMask(surface.size()), [&](size_t, size_t begin, size_t end) {
    auto chunk = std::make_shared<ScalarChunk>();
    for (size_t s = begin; s < end; ++s)
      chunk->plane[0][s - begin] = to16(showsAt(surface.positions[s], surface.normals[s], surface.parts[s]));
    return chunk;
  });
  const auto with = withMask(document, document.activeLayer);
  if (!with) return with;
  return withMaskField(*with, with->activeLayer, mask);
}

// How the hide shows: 0 at lids, lips and belly … 1 on the back of the head.
float hideAt(const Vec3& p, const Vec3& normal, uint32_t part) {
  if (part != 0) return 0;
  const Vec3 eye(p.x() < 0 ? -44 : 44, 113, 42);
  const float lids = smoothstep(30.f, 52.f, (p - eye).norm());
  const float lips = p.z() < 10 ? 1 : smoothstep(9.f, 30.f, std::abs(p.y() - 29));
  const float under = smoothstep(0.75f, -0.1f, normal.dot(Vec3(0, -0.45f, 0.89f)));
  const float belly = p.y() < 10 ? under : 1;
  return lids * lips * belly;
}

// 1 down the nape and the back.
float backAt(const Vec3& p, const Vec3& normal, uint32_t part) {
  if (part != 0) return 0;
  return smoothstep(0.1f, 0.6f, normal.dot(Vec3(0, 0.5f, -0.866f))) * smoothstep(125.f, 90.f, p.y());
}

}  // namespace

Result<Document> ferrymanPatterns(Document document) {
  Scales hide;
  hide.guides.direction.flow = Vec3(0, -0.45f, -0.89f);
  hide.guides.direction.form = 30;
  hide.guides.size.size = 6.5f;
  hide.guides.size.smallest = 0.45f;
  HueZone eyes;
  eyes.anchor = {44, 88, 62};
  eyes.reach = 60;
  eyes.strength = 0.9f;
  hide.guides.size.smaller = {eyes};
  hide = usualScales(ScaleShape::Pebble, hide);
  hide.depth = 0.55f;
  hide.ramp = {
      {0, hex("#35371f"), 0.55f, {}}, {0.55f, hex("#6f7048"), 0.25f, {}}, {1, hex("#a39a68"), 0.3f, {}}};
  hide.grooveColor = hex("#20200f");
  hide.grooveCover = 0.5f;
  Document d = withSourceLayer(document, "Hide", Stratum::Surface, scaleSource(hide));
  auto out = masked(d, hideAt);
  if (!out) return out;
  Bands fins;
  fins.guides.direction.flow = Vec3(0, 0.8f, -0.6f);
  fins.guides.direction.curvature = 0;
  fins.guides.size.size = 17;
  fins.width = 0.5f;
  fins.wavy = 0.35f;
  fins.uneven = 0.5f;
  fins.ramp = {{0, hex("#241c12"), 0.7f, {}}, {1, hex("#1a140e"), 0.85f, {}}};
  Spots back;
  back.guides.direction.flow = Vec3(0, -0.45f, -0.89f);
  back.guides.size.size = 24;
  back.look = "worms";
  back.stretch = 1.4f;
  back.amount = 0.45f;
  back.softness = 0.35f;
  back.ramp = {{0, hex("#37301c"), 0.6f, {}}, {1, hex("#211b10"), 0.85f, {}}};
  d = withSourceLayer(*out, "Back marks", Stratum::Pigment, spotSource(back));
  out = masked(d, backAt);
  if (!out) return out;
  d = withSourceLayer(*out, "Fin bands", Stratum::Pigment, bandSource(fins));
  return withMaskFromParts(*withMask(d, d.activeLayer), d.activeLayer, {4});
}

Result<Document> keeperSkin(Document document) {
  FineSkin skin;
  skin.guides.direction.form = 25;
  skin.guides.size.size = 1.9f;
  skin.depth = 0.11f;
  skin.lines = 0.55f;
  skin.pores = 0.55f;
  skin.creases = 0.35f;
  skin.gloss = 0.4f;
  skin.glossCover = 0.55f;
  skin.color = hex("#6d3426");
  Document d = withSourceLayer(document, "Fine skin", Stratum::Surface, fineSkinSource(skin));
  const auto regions = withUsualRegions(d, d.activeLayer);
  if (!regions) return regions;
  std::set<uint32_t> parts;
  for (uint32_t p = 0; p < d.sculpt->parts.size(); ++p)
    if (d.sculpt->parts[p].find("eye") == std::string::npos) parts.insert(p);
  const auto masked = withMask(*regions, d.activeLayer);
  if (!masked) return masked;
  return withMaskFromParts(*masked, d.activeLayer, parts);
}

}  // namespace juvenor::demo
