// The layers a demo document opens with: a base per part, a few hues of blood and bone, markings on the back.
// Colours are laid by place and noise, so that they are the same for every density of points.
#include "core/color/skin_tone.h"
#include "core/document/edits.h"
#include "core/export/picture_file.h"
#include "core/layers/composite.h"
#include "core/surface/map_field.h"
#include "core/surface/noise.h"
#include "demo/colors.h"
#include "demo/demo.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

/// Colour and strength 0…1 at a place.
struct Tint {
  EncodedColor color;
  float strength = 0;
};
using Painter = std::function<Tint(const Vec3& position, const Vec3& normal, uint32_t part)>;

ColorField painted(const Surface& surface, const Painter& painter) {
  return mapField(ColorField(surface.size()), [&](size_t, size_t begin, size_t end) {
    std::shared_ptr<ColorChunk> chunk;
    for (size_t s = begin; s < end; ++s) {
      const Tint t = painter(surface.positions[s], surface.normals[s], surface.parts[s]);
      const float a = std::clamp(t.strength, 0.f, 1.f);
      if (a <= 0) continue;
      if (!chunk) chunk = std::make_shared<ColorChunk>();
      setSample(*chunk, s - begin, {to16(t.color.r * a), to16(t.color.g * a), to16(t.color.b * a), to16(a)});
    }
    return chunk;
  });
}

struct Sheet {
  const char* name;
  Stratum stratum;
  BlendMode blend;
  float opacity;
  Painter painter;
};

Document laid(Document d, const std::vector<Sheet>& sheets) {
  for (const Sheet& s : sheets) {
    d = withPaintedLayer(d, s.name, s.stratum);
    const uint32_t id = d.activeLayer;
    LayerChange change;
    change.blend = s.blend;
    change.opacity = s.opacity;
    d = *withLayerChanged(*withPainted(d, id, painted(*d.surface, s.painter)), id, change);
  }
  return d;
}

float near(const Vec3& p, const Vec3& center, float reach) {
  return smoothstep(reach, 0.25f * reach,
                    (p - center).norm() + 0.16f * reach * fractal(p / (0.3f * reach), 2, 71));
}

// Iris and pupil of an eye that looks along `look` from its centre.
Tint eyeTint(const Vec3& p, const Vec3& center, const Vec3& look, float radius, const EncodedColor& white,
             const EncodedColor& iris, bool slit) {
  const Vec3 q = (p - center).normalized();
  const float away = std::acos(std::clamp(q.dot(look), -1.f, 1.f)) * radius;
  const Vec3 across = look.cross(Vec3::UnitY()).normalized(), up = across.cross(look);
  const float pupil = slit ? std::hypot(q.dot(across) * radius / 0.95f, q.dot(up) * radius / 0.42f) : away;
  const float rays = 0.5f + 0.5f * perlin({8 * std::atan2(q.dot(up), q.dot(across)), away * 0.25f, 0}, 83);
  const float size = 0.52f * radius;
  EncodedColor c = mixed(iris, hex("#5b3a16"), 0.55f * rays);
  c = mixed(c, hex("#241a10"), smoothstep(0.82f * size, 0.98f * size, away));
  c = mixed(c, white, smoothstep(size, 1.06f * size, away));
  c = mixed(c, hex("#0b0a09"), smoothstep(0.44f * size, 0.36f * size, pupil));
  return {c, 1};
}

std::vector<Sheet> ferrymanSheets() {
  const auto base = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    if (part == 1 || part == 2) {
      const float side = part == 1 ? 1.f : -1.f;
      return eyeTint(p, {46 * side, 114, 42}, Vec3(0.30f * side, 0.04f, 0.95f).normalized(), 26,
                     hex("#c9b46a"), hex("#e0a93c"), true);
    }
    if (part == 3) return {mixed(hex("#8f3b3a"), hex("#c9695c"), smoothstep(60, 92, m.x())), 1};
    if (part == 4) return {mixed(hex("#6f7450"), hex("#b98a52"), 0.5f + 0.5f * perlin(p / 30, 5)), 1};
    if (part == 5) return {hex("#b4655f"), 1};
    if (part == 6) return {hex("#e6d8b2"), 1};
    return {mixed(hex("#8d8a5e"), hex("#a98f66"), 0.5f + 0.8f * fractal(m / 55, 3, 4)), 1};
  };
  const auto belly = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const float under = smoothstep(0.25f, -0.55f, n.y()) * smoothstep(-20, 40, p.z() + 20);
    return {hex("#d9c39a"), part == 0 ? 0.85f * under : 0};
  };
  const auto blood = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    float s = 0.8f * near(m, {70, 40, 44}, 42) + 0.8f * near(m, {16, 72, 98}, 24) +
              0.6f * near(m, {46, 100, 60}, 34);
    for (int i = 0; i < 3; ++i) s += 0.9f * near(m, {62, -8.f - 19.f * static_cast<float>(i), -6}, 24);
    const float lip =
        smoothstep(12, 3, std::abs(p.y() - 32 + 0.0026f * p.x() * p.x())) * smoothstep(40, 80, p.z());
    return {hex("#a8473a"), part == 0 ? std::min(0.85f, s + 0.7f * lip) : 0};
  };
  const auto back = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    const float top = smoothstep(0.05f, 0.75f, n.y() - 0.004f * p.z() + 0.35f * fractal(m / 26, 3, 21));
    return {hex("#3f4630"), part == 0 ? 0.8f * top : 0};
  };
  const auto speckle = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Cells large = worley(p / 13.f, 31), small = worley(p / 6.f, 32);
    const float where = smoothstep(-0.4f, 0.5f, n.y() + 0.5f * fractal(p / 40, 2, 33));
    const float s = smoothstep(0.40f, 0.32f, large.first) + 0.8f * smoothstep(0.30f, 0.22f, small.first);
    return {hex("#2c2a1e"), part == 0 || part == 4 ? where * std::min(1.f, s) : 0};
  };
  const auto glint = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Cells cell = worley(p / 9.f, 41);
    const float where =
        smoothstep(0.45f, -0.35f, std::abs(n.y() - 0.05f)) * smoothstep(0.1f, 0.6f, fractal(p / 30, 2, 42));
    return {hex("#7fb7ae"), part == 0 ? where * smoothstep(0.26f, 0.2f, cell.first) : 0};
  };
  return {{"Base per part", Stratum::Flesh, BlendMode::Normal, 1, base},
          {"Pale underside", Stratum::Flesh, BlendMode::Normal, 0.8f, belly},
          {"Blood: cheeks, lips, gills", Stratum::Flesh, BlendMode::Normal, 0.55f, blood},
          {"Dark back", Stratum::Pigment, BlendMode::Stain, 0.55f, back},
          {"River speckle", Stratum::Pigment, BlendMode::Stain, 0.7f, speckle},
          {"Glints", Stratum::Surface, BlendMode::Screen, 0.6f, glint}};
}

// The eyes as painted balls, the skin in one tone of the model: the ground everything else is melted into.
std::vector<Sheet> keeperSheets() {
  const EncodedColor skin = colorOf({0.40f, 0.40f, 0.40f});
  const auto base = [skin](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    if (part == 1 || part == 2) {
      const float side = part == 1 ? 1.f : -1.f;
      return eyeTint(p, {31.5f * side, 61, 66.5f}, Vec3(0, 0.02f, 1).normalized(), 13.2f, hex("#d8cfc2"),
                     hex("#7d8f86"), false);
    }
    return {skin, 1};
  };
  return {{"Base tone", Stratum::Flesh, BlendMode::Normal, 1, base}};
}

MaskTerm term(const MapKind* kind, float scale, float low, float high, float fade, float melt = 0) {
  MaskTerm out;
  out.map = usualMap(kind, 0);
  out.map.scale = scale;
  out.low = low;
  out.high = high;
  out.fade = fade;
  out.melt = melt;
  return out;
}

// One colour where the terms say, nothing elsewhere.
Document shaded(const Document& document, const char* name, Stratum stratum, BlendMode blend, float opacity,
                MaskTerms terms, const EncodedColor& color) {
  Document d =
      withSourceLayer(document, name, stratum, rampSource(std::move(terms), {{0, color, 0}, {1, color, 1}}));
  LayerChange change;
  change.blend = blend;
  change.opacity = opacity;
  return *withLayerChanged(d, d.activeLayer, change);
}

// Shadow in the creases, warmth where the form closes in, rubbed light on the ridges, sun on what faces up.
Document keeperForm(Document d) {
  MaskTerm skin = term(&kOcclusionMap, 40, 0.75f, 1, 0.75f);
  d = shaded(d, "Shadow: closed forms", Stratum::Flesh, BlendMode::Multiply, 0.55f, {skin}, hex("#7d4a3c"));
  d = shaded(d, "Shadow: creases", Stratum::Flesh, BlendMode::Multiply, 0.6f,
             {term(&kCavityMap, 2.2f, 0.55f, 1, 0.5f)}, hex("#8a5141"));
  d = shaded(d, "Rubbed light: ridges", Stratum::Flesh, BlendMode::SoftLight, 0.45f,
             {term(&kRidgeMap, 3, 0.5f, 1, 0.45f)}, hex("#f6e3c8"));
  return shaded(d, "Sun from above", Stratum::Flesh, BlendMode::Multiply, 0.35f,
                {term(&kExposureMap, 0, 0.95f, 1, 0.5f, 3)}, hex("#c98d66"));
}

Document keeperZones(Document d) {
  for (const Landmark& l : landmarksOf(Figure::Keeper)) d = *withLandmark(d, l.key, l.position);
  d = *withUsualZones(d);
  ZoneSet zones = *zonesOf(*layerOf(d, d.activeLayer)->source);
  zones.melt = 1.5f;
  return *withSource(d, d.activeLayer, zoneSource(std::move(zones)));
}

Document ferrymanForm(Document d) {
  d = shaded(d, "Silt in the creases", Stratum::Pigment, BlendMode::Multiply, 0.6f,
             {term(&kCavityMap, 3, 0.5f, 1, 0.45f)}, hex("#4c4632"));
  return shaded(d, "Rubbed light", Stratum::Surface, BlendMode::SoftLight, 0.4f,
                {term(&kRidgeMap, 3, 0.5f, 1, 0.45f)}, hex("#e9dfb9"));
}

// A ramp of gloss and height over terms, no colour.
Document weathered(const Document& document, const char* name, MaskTerms terms, float gloss,
                   float relief = 0) {
  RampStops stops{{0, {}, 0, {}}, {1, {}, 1, {}}};
  for (RampStop& stop : stops) {
    stop.number[static_cast<size_t>(Channel::Gloss)] = gloss;
    stop.number[static_cast<size_t>(Channel::Relief)] = relief;
  }
  ChannelSet channels = Channel::Gloss;
  if (relief != 0) channels |= Channel::Relief;
  return withSourceLayer(document, name, Stratum::Surface, rampSource(std::move(terms), stops, channels));
}

// Gloss laid by hand: `wetAt` says how wet a place of a part is, below 0 what stays as it is.
template <class WetAt>
Document moistened(const Document& document, const char* name, WetAt wetAt) {
  Document d = withPaintedLayer(document, name, Stratum::Surface);
  const Surface& surface = *d.surface;
  ChannelFields fields(surface.size());
  auto& gloss = fields.get<Channel::Gloss>();
  gloss = mapField(gloss, [&](size_t, size_t begin, size_t end) -> std::shared_ptr<CoverChunk> {
    auto chunk = std::make_shared<CoverChunk>();
    bool any = false;
    for (size_t s = begin; s < end; ++s) {
      const auto [wet, cover] = wetAt(surface.positions[s], d.sculpt->parts[surface.parts[s]]);
      if (cover <= 0) continue;
      any = true;
      chunk->plane[0][s - begin] = to16(wet * cover);
      chunk->plane[1][s - begin] = to16(cover);
    }
    return any ? chunk : nullptr;
  });
  return *withPainted(d, d.activeLayer, std::move(fields));
}

bool isEye(const std::string& part) {
  return part.find("eye") != std::string::npos;
}

// Oil on what stands out, dust where the form closes in and toward the shoulders, wet lips and eyes.
Document keeperGloss(Document d) {
  d = weathered(d, "Oil: brow, nose, cheekbones", {term(&kRidgeMap, 9, 0.55f, 1, 0.35f, 3)}, 0.68f);
  d = weathered(d, "Dry creases", {term(&kCavityMap, 2, 0.6f, 1, 0.35f)}, 0.3f, -0.25f);
  MaskTerm low = term(&kElevationMap, 0, 0, 0.22f, 0.2f);
  d = weathered(d, "Dry shoulders", {low}, 0.28f);
  return moistened(d, "Wet lips and eyes", [](const Vec3& p, const std::string& part) {
    if (isEye(part)) return std::pair(0.96f, 1.f);
    const Vec3 lip(std::clamp(p.x(), -22.f, 22.f), -3, 96), lid((p.x() < 0 ? -1.f : 1.f) * 32, 62, 84);
    const float lips = 1 - (p - lip).norm() / 11, lids = 1 - (p - lid).norm() / 16;
    return std::pair(0.8f, std::clamp(2 * std::max(lips, lids), 0.f, 0.9f));
  });
}

// Slime all over, thicker where the form closes in; dry silt in the finest creases; eyes like glass.
Document ferrymanGloss(Document d) {
  ChannelValues wet;
  wet[Channel::Gloss] = 0.62f;
  d = withSourceLayer(d, "Slime", Stratum::Surface, fillSource(wet));
  MaskTerm closed = term(&kOcclusionMap, 30, 0.0f, 0.6f, 0.3f);
  d = weathered(d, "Thick slime", {closed}, 0.85f);
  d = weathered(d, "Dry silt", {term(&kCavityMap, 3, 0.7f, 1, 0.25f)}, 0.35f, -0.3f);
  return moistened(d, "Wet eyes", [](const Vec3&, const std::string& part) {
    return std::pair(0.97f, isEye(part) ? 1.f : 0.f);
  });
}

}  // namespace

std::vector<Landmark> landmarksOf(Figure figure) {
  if (figure != Figure::Keeper) return {};
  return {{"crown", {0, 144, -6}},      {"brow", {0, 80, 88}},       {"temple", {64, 78, 38}},
          {"lid", {32, 70, 76}},        {"under-eye", {32, 48, 77}}, {"ear", {80, 50, -10}},
          {"cheekbone", {46, 32, 68}},  {"nose", {1, 27, 117}},      {"lip", {0, -2, 99}},
          {"lip-corner", {26, -3, 82}}, {"jaw", {54, -14, 36}},      {"chin", {0, -34, 88}}};
}

Result<Document> dressed(Figure figure, std::shared_ptr<const Sculpt> sculpt,
                         std::shared_ptr<const Surface> surface, const Progress& progress) {
  Document d = newDocument(std::move(sculpt), std::move(surface));
  const bool keeper = figure == Figure::Keeper;
  d = laid(std::move(d), keeper ? keeperSheets() : ferrymanSheets());
  d = keeper ? keeperGloss(keeperZones(keeperForm(std::move(d)))) : ferrymanGloss(ferrymanForm(std::move(d)));
  const auto ready = prepared(d.layers, *d.maps, progress);
  if (!ready) return ready.error();
  for (const DemoPicture& picture : boardPictures()) {
    auto png = encodePng(picture.size, picture.pixels);
    if (!png) return png.error();
    auto data = decodePicture(std::move(*png), picture.name);
    if (!data) return data.error();
    d = withPicture(d, picture.name, std::move(*data));
  }
  return withPaintedLayer(d, "Your strokes", Stratum::Pigment);
}

}  // namespace juvenor::demo
