// The layers a demo document opens with: a base per part, a few hues of blood and bone, markings on the back.
// Colours are laid by place and noise, so that they are the same for every density of points.
#include "core/color/skin_tone.h"
#include "core/document/edits/edit_groups.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "core/noise/noise.h"
#include "core/photo/picture_file.h"
#include "core/surface/map_field.h"
#include "core/textures/unwrap.h"
#include "demo/eyes.h"
#include "demo/keeper.h"
#include "demo/keeper_hair.h"
#include "demo/markings.h"
#include "demo/patterns.h"
#include "demo/sheets.h"
#include "demo/shown.h"

namespace juvenor::demo {
namespace {

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
  ZoneSet zones = *layerOf(d, d.activeLayer)->source->zones();
  zones.melt = 1.5f;
  return *withSource(d, d.activeLayer, zoneSource(std::move(zones)));
}

Document ferrymanForm(Document d) {
  d = shaded(d, "Silt in the creases", Stratum::Pigment, BlendMode::Multiply, 0.6f,
             {term(&kCavityMap, 3, 0.5f, 1, 0.45f)}, hex("#4c4632"));
  return shaded(d, "Rubbed light", Stratum::Surface, BlendMode::SoftLight, 0.4f,
                {term(&kRidgeMap, 3, 0.5f, 1, 0.45f)}, hex("#e9dfb9"));
}

// A ramp of gloss, height and a wet film over terms, no colour.
Document weathered(const Document& document, const char* name, MaskTerms terms, float gloss, float relief = 0,
                   float coat = 0) {
  RampStops stops{{0, {}, 0, {}}, {1, {}, 1, {}}};
  for (RampStop& stop : stops) {
    stop.number[static_cast<size_t>(Channel::Gloss)] = gloss;
    stop.number[static_cast<size_t>(Channel::Relief)] = relief;
    stop.number[static_cast<size_t>(Channel::Coat)] = coat;
  }
  ChannelSet channels = Channel::Gloss;
  if (relief != 0) channels |= Channel::Relief;
  if (coat != 0) channels |= Channel::Coat;
  return withSourceLayer(document, name, Stratum::Surface, rampSource(std::move(terms), stops, channels));
}

// A channel laid by hand: `at` says what a place of a part has and how much of that covers.
template <Channel C, class At>
Document laidByHand(const Document& document, const char* name, At at) {
  Document d = withPaintedLayer(document, name, Stratum::Surface);
  const Surface& surface = *d.surface;
  ChannelFields fields(surface.size());
  auto& field = fields.get<C>();
  field = mapField(field, [&](size_t, size_t begin, size_t end) -> std::shared_ptr<CoverChunk> {
    auto chunk = std::make_shared<CoverChunk>();
    bool any = false;
    for (size_t s = begin; s < end; ++s) {
      const auto [value, cover] = at(surface.positions[s], d.sculpt->parts[surface.parts[s]]);
      if (cover <= 0) continue;
      any = true;
      chunk->plane[0][s - begin] = to16(value * cover);
      chunk->plane[1][s - begin] = to16(cover);
    }
    return any ? chunk : nullptr;
  });
  return *withPainted(d, d.activeLayer, std::move(fields));
}

bool isEye(const std::string& part) {
  return part.find("eye") != std::string::npos;
}

// How near a place is to the keeper's lips and to his lids, 0 to 1.
std::array<float, 2> lipsAndLids(const Vec3& p) {
  const Vec3 lip(std::clamp(p.x(), -22.f, 22.f), -3, 96), lid((p.x() < 0 ? -1.f : 1.f) * 32, 62, 84);
  return {1 - (p - lip).norm() / 11, 1 - (p - lid).norm() / 16};
}

// Oil on what stands out, dust where the form closes in and toward the shoulders, wet lips and eyes, down on
// cheeks and ears.
Document keeperGloss(Document d) {
  d = weathered(d, "Oil: brow, nose, cheekbones", {term(&kRidgeMap, 9, 0.55f, 1, 0.35f, 3)}, 0.68f);
  d = weathered(d, "Dry creases", {term(&kCavityMap, 2, 0.6f, 1, 0.35f)}, 0.3f, -0.25f);
  MaskTerm low = term(&kElevationMap, 0, 0, 0.22f, 0.2f);
  d = weathered(d, "Dry shoulders", {low}, 0.28f);
  d = laidByHand<Channel::Fuzz>(d, "Down", [](const Vec3& p, const std::string& part) {
    const auto [lips, lids] = lipsAndLids(p);
    return std::pair(0.45f, isEye(part) ? 0.f : std::clamp(1 - 3 * std::max(lips, lids), 0.f, 1.f));
  });
  return laidByHand<Channel::Gloss>(d, "Wet lips and eyes", [](const Vec3& p, const std::string& part) {
    if (isEye(part)) return std::pair(0.96f, 1.f);
    const auto [lips, lids] = lipsAndLids(p);
    return std::pair(0.8f, std::clamp(2 * std::max(lips, lids), 0.f, 0.9f));
  });
}

// Slime all over, thicker where the form closes in; dry silt in the finest creases; eyes like glass.
Document ferrymanGloss(Document d) {
  ChannelValues wet;
  wet[Channel::Gloss] = 0.62f;
  wet[Channel::Coat] = 0.3f;
  d = withSourceLayer(d, "Slime", Stratum::Surface, fillSource(wet));
  MaskTerm closed = term(&kOcclusionMap, 30, 0.0f, 0.6f, 0.3f);
  d = weathered(d, "Thick slime", {closed}, 0.85f, 0, 0.95f);
  d = weathered(d, "Dry silt", {term(&kCavityMap, 3, 0.7f, 1, 0.25f)}, 0.35f, -0.3f);
  return laidByHand<Channel::Gloss>(d, "Wet eyes", [](const Vec3&, const std::string& part) {
    return std::pair(0.97f, isEye(part) ? 1.f : 0.f);
  });
}

// What belongs together under one name; it looks as it did.
Document together(const Document& d, const std::string& name,
                  std::initializer_list<std::string_view> layers) {
  std::vector<uint32_t> ids;
  for (const LayerPointer& layer : d.layers)
    if (std::ranges::find(layers, layer->name) != layers.end()) ids.push_back(layer->id);
  auto grouped = withGroup(d, ids, name);
  return grouped ? *grouped : d;
}

Document keeperGroups(Document d) {
  d = together(d, "Light and form",
               {"Shadow: closed forms", "Shadow: creases", "Rubbed light: ridges", "Sun from above"});
  d = together(d, "Sun's marks", {"Sun spots", "Freckles", "Moles"});
  d = together(d, "Vessels", {"Temple veins", "Broken veins"});
  d = together(d, "Hair", {"Cropped sides", "Short beard", "Brows' hair", "Lower lashes", "Upper lashes"});
  return together(d, "Wet and dry",
                  {"Oil: brow, nose, cheekbones", "Dry creases", "Dry shoulders", "Wet lips and eyes"});
}

Document ferrymanGroups(Document d) {
  d = together(d, "Vessels", {"Gill vessels", "Fin vessels"});
  d = together(d, "Markings", {"Back marks", "Fin bands"});
  return together(d, "Slime and wet", {"Slime", "Thick slime", "Dry silt", "Wet eyes"});
}

}  // namespace

std::vector<Landmark> landmarksOf(Figure figure) {
  if (figure == Figure::Ferryman) return {};
  std::vector<Landmark> out{
      {"crown", {0, 157, -14}},     {"brow", {0, 80, 86}},       {"temple", {67, 84, 36}},
      {"lid", {32, 69.5f, 78}},     {"under-eye", {32, 49, 76}}, {"ear", {84, 50, -20}},
      {"cheekbone", {46, 36, 66}},  {"nose", {0, 27, 109}},      {"lip", {0, -2, 94}},
      {"lip-corner", {27, -3, 80}}, {"jaw", {60, -14, 16}},      {"chin", {0, -42, 84}}};
  if (figure == Figure::OlderKeeper)
    for (Landmark& l : out) l.position = olderPlace(l.position);
  return out;
}

Result<Document> dressed(Figure figure, std::shared_ptr<const Sculpt> sculpt,
                         std::shared_ptr<const Surface> surface, const Progress& progress) {
  Document d = newDocument(std::move(sculpt), std::move(surface));
  if (figure == Figure::OlderKeeper) {
    for (const Landmark& l : landmarksOf(figure)) d = *withLandmark(d, l.key, l.position);
    return d;
  }
  const bool keeper = figure != Figure::Ferryman;
  if (keeper) {
    d = keeperZones(keeperForm(laid(std::move(d), keeperGround())));
    auto marked = keeperMarkings(std::move(d));
    if (!marked) return marked.error();
    auto pored = keeperSkin(laid(std::move(*marked), keeperSheets()));
    if (!pored) return pored.error();
    auto looks = withEyes(keeperGloss(std::move(*pored)), figure);
    if (!looks) return looks.error();
    d = keeperGroups(withKeepersHair(std::move(*looks)));
  } else {
    auto marked = ferrymanMarkings(laid(std::move(d), ferrymanSheets()));
    if (!marked) return marked.error();
    auto patterned = ferrymanPatterns(ferrymanForm(std::move(*marked)));
    if (!patterned) return patterned.error();
    auto looks = withEyes(ferrymanGloss(std::move(*patterned)), figure);
    if (!looks) return looks.error();
    d = ferrymanGroups(std::move(*looks));
  }
  const auto ready = prepared(d.layers, *d.maps, progress);
  if (!ready) return ready.error();
  for (const DemoPicture& picture : boardPictures()) {
    auto png = encodePng(picture.size, picture.pixels);
    if (!png) return png.error();
    auto data = decodePicture(std::move(*png), picture.name);
    if (!data) return data.error();
    d = withPicture(d, picture.name, std::move(*data));
  }
  if (figure == Figure::ByPhotos) return byPhotos(d, progress);
  d.activeLayer = 0;
  return withCamerasAndVariants(withPaintedLayer(d, "Your strokes", Stratum::Pigment), figure);
}

Result<Document> laidOut(Figure figure, Document document, const Progress& progress) {
  if (figure != Figure::Keeper) return document;
  return withUnwrapped(document, {}, progress);
}

}  // namespace juvenor::demo
