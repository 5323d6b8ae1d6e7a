// All lengths in heights of the head. Colours and amounts are this program's own.
#include "demo/recipes.h"

#include "core/document/edits/edits.h"
#include "core/layers/filters/filter.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "demo/colors.h"

namespace juvenor::demo {
namespace {

RecipeLayer sheet(const char* name, Stratum stratum, SourcePointer source,
                  BlendMode blend = BlendMode::Normal, float opacity = 1, MaskTerms terms = {},
                  bool leaveOut = false) {
  Layer out;
  out.id = 1;
  out.name = name;
  out.stratum = stratum;
  out.source = std::move(source);
  out.blend = blend;
  out.opacity = opacity;
  out.terms = std::move(terms);
  return {std::make_shared<Layer>(std::move(out)), leaveOut};
}

MaskTerm mapped(const MapKind* kind, float scale, float low, float fade, float melt = 0) {
  MaskTerm out;
  out.map = usualMap(kind, 0);
  out.map.scale = scale;
  out.low = low;
  out.fade = fade;
  out.melt = melt;
  return out;
}

MaskTerm fromAbove(float low, float fade) {
  MaskTerm out = mapped(&kExposureMap, 0, low, fade, 0.012f);
  out.map.direction = Vec3(0, 0.95f, 0.31f);
  return out;
}

MaskTerm fromBelow(float low, float fade) {
  MaskTerm out = fromAbove(low, fade);
  out.map.direction = -Vec3::UnitY();
  return out;
}

RecipeLayer shaded(const char* name, Stratum stratum, BlendMode blend, float opacity, MaskTerms terms,
                   const EncodedColor& color) {
  return sheet(name, stratum, rampSource(std::move(terms), {{0, color, 0, {}}, {1, color, 1, {}}}), blend,
               opacity);
}

// The usual zones of a face, all as strong as `strength` of what they usually are; they go to their
// landmarks.
RecipeLayer hueZones(float strength) {
  Document head;
  for (int i = 0; i < kLandmarkCount; ++i) {
    const LandmarkFacts& facts = landmarkFacts()[static_cast<size_t>(i)];
    head.landmarks.push_back({std::string(facts.key), Vec3(0, 1 - facts.y, 0)});
  }
  const float height = headHeightOf(head);
  ZoneSet zones = *usualZones(head);
  for (HueZone& zone : zones.zones) {
    zone.anchor = Vec3::Zero();
    zone.reach /= height;
    zone.grain /= height;
    zone.strength *= strength;
  }
  zones.melt = 0.006f;
  return sheet("Hue zones", Stratum::Flesh, zoneSource(std::move(zones)));
}

RecipeLayer base(const char* color) {
  return sheet("Base", Stratum::Flesh, fillSource(hex(color)));
}

RecipeLayer blood(const char* first, const char* second, float opacity) {
  Mottle out;
  out.tones = {{hex(first), 0.55f}, {hex(second), 0.12f}, {hex(first), 0.3f}};
  out.size = 0.075f;
  out.fine = 0.02f;
  out.crease = 0.02f;
  return sheet("Mottling", Stratum::Pigment, mottleSource(out), BlendMode::Blood, opacity);
}

RecipeLayer freckles(const char* color, float cover, float largest, float opacity) {
  Speckle out;
  out.color = hex(color);
  out.smallest = 0.0035f;
  out.largest = largest;
  out.cover = cover;
  out.everywhere = 0.4f;
  out.fade = 0.7f;
  out.softness = 0.6f;
  out.height = 0;
  out.density = {fromAbove(0.7f, 0.6f)};
  for (const char* key : {"nose", "cheekbone"}) {
    HueZone zone;
    zone.name = key == std::string_view("nose") ? "Nose" : "Cheek";
    zone.landmark = key;
    zone.reach = 0.35f;
    zone.grain = 0.05f;
    out.gather.push_back(zone);
  }
  return sheet("Freckles", Stratum::Pigment, speckleSource(out), BlendMode::Melanin, opacity);
}

// Lozenges a hundred and thirtieth of a head wide; regions at their landmarks.
RecipeLayer fineSkin(float depth, float pores, float creases, float gloss, const char* color) {
  FineSkin out;
  out.guides.direction.form = 0.09f;
  out.guides.size.size = 0.0075f;
  out.depth = depth;
  out.pores = pores;
  out.creases = creases;
  out.gloss = gloss;
  out.color = hex(color);
  const std::tuple<const char*, const char*, float> regions[] = {{"cheekbone", "cheek", 0.27f},
                                                                 {"nose", "cheek", 0.16f},
                                                                 {"brow", "brow", 0.29f},
                                                                 {"lip", "lip", 0.11f},
                                                                 {"jaw", "neck", 0.22f}};
  for (const auto& [landmark, like, reach] : regions) {
    HueZone zone;
    zone.name = skinLike(like)->label;
    zone.landmark = landmark;
    zone.like = like;
    zone.reach = reach;
    zone.strength = 1;
    zone.softness = 0.6f;
    zone.grain = 0.03f;
    out.regions.push_back(zone);
  }
  return sheet("Fine skin", Stratum::Surface, fineSkinSource(out));
}

Recipe made(const char* name, const char* about, float spacing, std::vector<RecipeLayer> layers) {
  Recipe out;
  out.name = name;
  out.about = about;
  out.spacing = spacing;
  out.layers = std::move(layers);
  return out;
}

// What fine skin of that size wants.
constexpr float kSkinSpacing = 0.0021f, kHideSpacing = 0.0045f;

Recipe weatheredKeeper() {
  return made("Weathered keeper", "Sun, wind and years: tan over red, sun spots, deep folds", kSkinSpacing,
              {base("#bd8f6d"), hueZones(1),
               shaded("Shadow in the creases", Stratum::Flesh, BlendMode::Multiply, 0.55f,
                      {mapped(&kCavityMap, 0.01f, 0.55f, 0.5f)}, hex("#8a5141")),
               shaded("Sun from above", Stratum::Pigment, BlendMode::Multiply, 0.45f,
                      {fromAbove(0.95f, 0.5f)}, hex("#c98d66")),
               blood("#9a3b30", "#caa070", 0.8f), freckles("#6a3d28", 0.12f, 0.016f, 0.8f),
               fineSkin(0.00045f, 0.6f, 0.45f, 0.4f, "#6d3426")});
}

Recipe paleIndoor() {
  return made("Pale indoor", "Little sun: blood and bone show through, cool shadows, fine pores",
              kSkinSpacing,
              {base("#e2bfab"), hueZones(0.85f),
               shaded("Cool shadow", Stratum::Flesh, BlendMode::Multiply, 0.4f,
                      {mapped(&kOcclusionMap, 0.16f, 0.75f, 0.7f)}, hex("#a58d94")),
               blood("#c05a50", "#e5c6a8", 0.55f), freckles("#a4704f", 0.05f, 0.008f, 0.5f),
               fineSkin(0.00026f, 0.4f, 0.15f, 0.46f, "#a9604f")});
}

Recipe darkWarm() {
  return made("Dark warm", "Much melanin over warm blood, light on ridges, palms and lips spared",
              kSkinSpacing,
              {base("#6d4530"), hueZones(0.6f),
               shaded("Deep shadow", Stratum::Flesh, BlendMode::Multiply, 0.5f,
                      {mapped(&kOcclusionMap, 0.16f, 0.75f, 0.7f)}, hex("#4a2b26")),
               shaded("Light on ridges", Stratum::Pigment, BlendMode::SoftLight, 0.5f,
                      {mapped(&kRidgeMap, 0.012f, 0.5f, 0.45f)}, hex("#f0c9a0")),
               blood("#7a2f22", "#8a5a38", 0.6f), freckles("#2c1710", 0.04f, 0.01f, 0.6f),
               fineSkin(0.00032f, 0.5f, 0.25f, 0.56f, "#2e1811")});
}

Scales hideOf(ScaleShape shape, float size, float depth) {
  Scales out;
  out.guides.direction.form = 0.11f;
  out.guides.direction.flow = Vec3(0, -0.45f, -0.89f);
  out.guides.size.size = size;
  out.guides.size.smallest = 0.45f;
  out.guides.size.maps = {mapped(&kRidgeMap, 0.05f, 0.2f, 0.6f, 0.02f)};
  out.guides.size.maps.front().invert = true;
  HueZone lids;
  lids.name = "Lids";
  lids.landmark = "lid";
  lids.reach = 0.25f;
  lids.grain = 0.02f;
  lids.strength = 0.9f;
  out.guides.size.smaller = {lids};
  out = usualScales(shape, out);
  out.depth = depth;
  return out;
}

Recipe mudskipper() {
  Scales hide = hideOf(ScaleShape::Pebble, 0.024f, 0.002f);
  hide.ramp = {
      {0, hex("#35371f"), 0.55f, {}}, {0.55f, hex("#6f7048"), 0.3f, {}}, {1, hex("#a39a68"), 0.35f, {}}};
  hide.grooveColor = hex("#20200f");
  hide.grooveCover = 0.5f;
  Spots worms;
  worms.guides.direction.form = 0.11f;
  worms.guides.size.size = 0.09f;
  worms.look = "worms";
  worms.stretch = 1.4f;
  worms.ramp = {{0, hex("#37301c"), 0.6f, {}}, {1, hex("#211b10"), 0.8f, {}}};
  return made(
      "Mudskipper", "Wet mud-bank hide: pebbles, dark worms on top, a pale underside", kHideSpacing,
      {base("#857f55"),
       shaded("Pale below", Stratum::Flesh, BlendMode::Normal, 0.7f, {fromBelow(0.5f, 0.3f)}, hex("#c9bd92")),
       sheet("Marks", Stratum::Pigment, spotSource(worms), BlendMode::Normal, 0.8f, {fromAbove(0.8f, 0.4f)},
             true),
       shaded("Silt in the creases", Stratum::Pigment, BlendMode::Multiply, 0.6f,
              {mapped(&kCavityMap, 0.012f, 0.5f, 0.45f)}, hex("#4c4632")),
       sheet("Hide", Stratum::Surface, scaleSource(hide), BlendMode::Normal, 1, {}, true)});
}

Recipe lizard() {
  Scales leaves = hideOf(ScaleShape::Leaf, 0.032f, 0.0028f);
  leaves.ramp = {
      {0, hex("#4e4a26"), 0.75f, {}}, {0.6f, hex("#7d8a3c"), 0.7f, {}}, {1, hex("#b8b25e"), 0.8f, {}}};
  leaves.grooveColor = hex("#1e1d10");
  Bands bands;
  bands.guides.direction.form = 0.11f;
  bands.guides.size.size = 0.22f;
  bands.width = 0.4f;
  bands.wavy = 0.4f;
  bands.ramp = {{0, hex("#2f3a1a"), 0.6f, {}}, {1, hex("#1c2410"), 0.8f, {}}};
  return made("Lizard", "Dry leaves over one another, banded, yellow below", kHideSpacing,
              {base("#768043"),
               shaded("Yellow below", Stratum::Flesh, BlendMode::Normal, 0.8f, {fromBelow(0.5f, 0.3f)},
                      hex("#cdbb6c")),
               sheet("Bands", Stratum::Pigment, bandSource(bands), BlendMode::Normal, 0.85f,
                     {fromAbove(0.85f, 0.6f)}),
               shaded("Dust on ridges", Stratum::Surface, BlendMode::SoftLight, 0.5f,
                      {mapped(&kRidgeMap, 0.02f, 0.5f, 0.45f)}, hex("#eadfae")),
               sheet("Leaves", Stratum::Surface, scaleSource(leaves), BlendMode::Normal, 1, {}, true)});
}

Recipe deepSea() {
  Spots glow;
  glow.guides.direction.form = 0.11f;
  glow.guides.size.size = 0.07f;
  glow.look = "maze";
  glow.amount = 0.35f;
  glow.softness = 0.6f;
  glow.ramp = {{0, hex("#2a6f83"), 0.35f, {}}, {1, hex("#8fe3dd"), 0.9f, {}}};
  glow.gloss = 0.9f;
  glow.glossCover = 0.8f;
  Filter brushed;
  brushed.way = Filter::Way::Painterly;
  brushed.guides.direction.form = 0.11f;
  brushed.guides.size.size = 0.05f;
  brushed.bristle = 0.15f;
  ChannelValues wet;
  wet[Channel::Gloss] = 0.82f;
  return made(
      "Deep sea", "Blue-black and wet, a maze that glows, veins of light where skin is thin", kHideSpacing,
      {base("#16202e"),
       shaded("Thin skin", Stratum::Flesh, BlendMode::Screen, 0.6f,
              {mapped(&kThicknessMap, 0.1f, 0.6f, 0.5f)}, hex("#5a3f63")),
       shaded("Pale below", Stratum::Flesh, BlendMode::Normal, 0.5f, {fromBelow(0.5f, 0.3f)}, hex("#3c5a70")),
       sheet("Brushed", Stratum::Flesh, filterSource(brushed)),
       sheet("Maze", Stratum::Pigment, spotSource(glow), BlendMode::Normal, 0.8f, {}, true),
       sheet("Wet", Stratum::Surface, fillSource(wet))});
}

// What parts are made of, to be laid on the active part alone: how far light wanders in them belongs to it.

RecipeLayer matter(const char* color, float gloss, float wander, float coat) {
  ChannelValues out = hex(color);
  out[Channel::Gloss] = gloss;
  out[Channel::Wander] = wander;
  if (coat > 0) out[Channel::Coat] = coat;
  return sheet("Base", Stratum::Flesh, fillSource(out));
}

RecipeLayer clouds(const char* first, const char* second, float size, BlendMode blend, float opacity) {
  Mottle out;
  out.tones = {{hex(first), 0.5f}, {hex(second), 0.2f}};
  out.size = size;
  out.fine = 0.3f * size;
  out.crease = 0.3f * size;
  return sheet("Uneven", Stratum::Flesh, mottleSource(out), blend, opacity);
}

constexpr float kPartSpacing = 0.006f;

Recipe forPart(Recipe recipe) {
  recipe.forPart = true;
  return recipe;
}

Recipe teeth() {
  return made(
      "Teeth", "For a part of teeth: yellow to the gum, a clear edge, uneven", kPartSpacing,
      {matter("#d9ccab", 0.74f, 0.55f, 0.4f), clouds("#cdb88a", "#e3dcc6", 0.03f, BlendMode::Normal, 0.45f),
       shaded("Yellow to the gum", Stratum::Flesh, BlendMode::Multiply, 0.8f,
              {mapped(&kOcclusionMap, 0.06f, 0.6f, 0.5f)}, hex("#b98f52")),
       shaded("Clear edge", Stratum::Flesh, BlendMode::Normal, 0.5f,
              {mapped(&kThicknessMap, 0.03f, 0.65f, 0.35f)}, hex("#b4bcc2")),
       shaded("Stain in the grooves", Stratum::Pigment, BlendMode::Multiply, 0.6f,
              {mapped(&kCavityMap, 0.005f, 0.55f, 0.4f)}, hex("#8a6338"))});
}

Recipe tongueAndGum() {
  Speckle buds;
  buds.color = hex("#d69a8e");
  buds.smallest = 0.003f;
  buds.largest = 0.006f;
  buds.cover = 0.22f;
  buds.raised = 1;
  buds.height = 0.0006f;
  buds.softness = 0.7f;
  return made(
      "Tongue and gum", "For the wet inside of a mouth: red into the throat, pale buds, furrows",
      kPartSpacing,
      {matter("#b3645d", 0.62f, 1, 0.85f), clouds("#9c3d3c", "#c98780", 0.06f, BlendMode::Normal, 0.5f),
       shaded("Red into the throat", Stratum::Flesh, BlendMode::Multiply, 0.85f,
              {mapped(&kOcclusionMap, 0.12f, 0.6f, 0.5f)}, hex("#7c2b2e")),
       sheet("Buds", Stratum::Pigment, speckleSource(buds), BlendMode::Normal, 0.7f),
       shaded("Furrows", Stratum::Pigment, BlendMode::Multiply, 0.6f,
              {mapped(&kCavityMap, 0.008f, 0.55f, 0.4f)}, hex("#7d3434"))});
}

Recipe nailsAndClaws() {
  Bands growth;
  growth.guides.direction.form = 0.03f;
  growth.guides.size.size = 0.012f;
  growth.width = 0.45f;
  growth.wavy = 0.15f;
  growth.ramp = {{0, hex("#a88a5f"), 0.25f, {}}, {1, hex("#8d7049"), 0.4f, {}}};
  return made("Nails and claws",
              "For nails, claws and horns: a pink bed, growth in rings, worn ridges, a clear edge",
              kPartSpacing,
              {matter("#c5ad85", 0.68f, 0.25f, 0),
               shaded("Pink bed", Stratum::Flesh, BlendMode::Multiply, 0.7f,
                      {mapped(&kOcclusionMap, 0.05f, 0.55f, 0.5f)}, hex("#d79a86")),
               sheet("Growth", Stratum::Pigment, bandSource(growth), BlendMode::Normal, 0.7f),
               shaded("Clear edge", Stratum::Pigment, BlendMode::Normal, 0.5f,
                      {mapped(&kThicknessMap, 0.02f, 0.7f, 0.3f)}, hex("#e2d9c4")),
               shaded("Worn ridges", Stratum::Surface, BlendMode::SoftLight, 0.6f,
                      {mapped(&kRidgeMap, 0.01f, 0.5f, 0.4f)}, hex("#f0e6d0")),
               shaded("Dirt in the grooves", Stratum::Surface, BlendMode::Multiply, 0.6f,
                      {mapped(&kCavityMap, 0.005f, 0.55f, 0.4f)}, hex("#5a4630"))});
}

}  // namespace

const std::vector<ShippedRecipe>& shippedRecipes() {
  static const std::vector<ShippedRecipe> all{{"weathered-keeper", weatheredKeeper()},
                                              {"pale-indoor", paleIndoor()},
                                              {"dark-warm", darkWarm()},
                                              {"mudskipper", mudskipper()},
                                              {"lizard", lizard()},
                                              {"deep-sea", deepSea()},
                                              {"teeth", forPart(teeth())},
                                              {"tongue-and-gum", forPart(tongueAndGum())},
                                              {"nails-and-claws", forPart(nailsAndClaws())}};
  return all;
}

const Recipe* shippedRecipe(std::string_view key) {
  for (const ShippedRecipe& shipped : shippedRecipes())
    if (shipped.key == key) return &shipped.recipe;
  return nullptr;
}

}  // namespace juvenor::demo
