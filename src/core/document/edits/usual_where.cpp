// Where a pattern of skin usually has no business. That lids and lips stay bare, and that eyes, teeth and
// nails are none, is common practice; which words name such parts is this program's own.
#include <algorithm>
#include <cctype>
#include <set>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

constexpr std::string_view kNoSkin[] = {"eye", "cornea", "iris", "lash", "brow hair", "tooth", "teeth",
                                        "gum", "tongue", "claw", "nail", "horn",      "beak",  "hair"};
constexpr std::string_view kBare[] = {"lid", "lip", "lip-corner"};

bool isNoSkin(std::string name) {
  std::ranges::transform(name, name.begin(),
                         [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  // an eyelid is skin
  if (name.find("lid") != std::string::npos) return false;
  return std::ranges::any_of(kNoSkin,
                             [&](std::string_view word) { return name.find(word) != std::string::npos; });
}

// 0…1 at each sample: how bare it stays.
std::vector<float> bareness(const Document& document) {
  std::vector<float> out(document.surface->size(), 0);
  if (const auto zones = usualZones(document))
    for (const HueZone& zone : zones->zones) {
      if (std::ranges::find(kBare, zone.landmark) == std::end(kBare)) continue;
      HueZone even = zone;
      even.breakUp = 0;
      const ZoneInfluencePointer influence = influenceOf(*document.maps, even, 0);
      for (size_t i = 0; i < influence->samples.size(); ++i) {
        float& b = out[influence->samples[i]];
        b = std::max(b, std::min(1.f, 1.6f * influence->values[i]));
      }
    }
  const std::set<uint32_t> skin = skinParts(document);
  for (size_t s = 0; s < out.size(); ++s)
    if (!skin.contains(document.surface->parts[s])) out[s] = 1;
  return out;
}

// What skin is like around a landmark of a face, and how far by the usual zone there. That pores are widest
// on cheeks and nose, that the brow folds across and lips fold along is common practice.
struct UsualRegion {
  std::string_view landmark, like;
  float reach;  // by that of the usual zone
};
constexpr UsualRegion kUsualRegions[] = {
    {"cheekbone", "cheek", 1}, {"nose", "cheek", 1.2f}, {"chin", "cheek", 0.8f}, {"brow", "brow", 1.2f},
    {"crown", "brow", 0.5f},   {"lip", "lip", 0.9f},    {"jaw", "neck", 0.8f}};

}  // namespace

std::set<uint32_t> skinParts(const Document& document) {
  std::set<uint32_t> out;
  const auto& names = document.sculpt->parts;
  for (uint32_t p = 0; p < document.surface->partCount; ++p)
    if (p >= names.size() || !isNoSkin(names[p])) out.insert(p);
  return out;
}

Result<Document> withUsualRegions(const Document& document, uint32_t id) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !fineSkinOf(*layer->source)) return Error{"only fine skin has regions"};
  const auto zones = usualZones(document);
  if (!zones) return Error{"place landmarks first; the regions are laid out from them"};
  ZoneSet out;
  for (const UsualRegion& usual : kUsualRegions)
    for (HueZone zone : zones->zones) {
      if (zone.landmark != usual.landmark) continue;
      zone.like = usual.like;
      zone.name = skinLike(usual.like)->label;
      zone.tint = {};
      zone.reach *= usual.reach;
      zone.strength = 1;
      zone.softness = 0.6f;
      zone.breakUp = 0.2f;
      out.zones.push_back(std::move(zone));
    }
  return withSource(document, id, layer->source->withZones(std::move(out)));
}

Result<Document> withUsualExceptions(const Document& document, uint32_t id) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer) return Error{"there is no such layer"};
  const std::vector<float> bare = bareness(document);
  if (std::ranges::max(bare) <= 0)
    return Error{
        "nothing to leave out is known: place the landmarks of lids and lips, or name parts like \"eye\" or "
        "\"teeth\""};
  const auto with = layer->mask ? Result<Document>(document) : withMask(document, id);
  if (!with) return with;
  const ScalarField& before = *layerOf(*with, id)->mask;
  const ScalarField mask = mapField(before, [&](size_t c, size_t begin, size_t end) -> ScalarField::Pointer {
    if (std::all_of(bare.begin() + static_cast<std::ptrdiff_t>(begin),
                    bare.begin() + static_cast<std::ptrdiff_t>(end), [](float b) { return b <= 0; }))
      return nullptr;
    auto out = before.writable(c);
    for (size_t s = begin; s < end; ++s) {
      uint16_t& v = out->plane[0][s - begin];
      v = to16(from16(v) * (1 - bare[s]));
    }
    return out;
  });
  return withMaskField(*with, id, mask);
}

}  // namespace juvenor
