// Markings of living skin: what they are set to. Each is a kind of layer with a file of its own in sources/.
// All sizes in scene units, everything random from the seed.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

/// How spots, or tones, differ from each other: parts of the whole way either way.
struct ColorVariety {
  float lightness = 0.04f;  ///< of Oklab
  float chroma = 0.15f;     ///< as a part of the colour's own
  float hue = 8;            ///< degrees of Oklch
  bool operator==(const ColorVariety&) const = default;
};

/// Freckles, moles, spots.
struct Speckle {
  EncodedColor color{0.48f, 0.29f, 0.2f};
  ColorVariety variety;
  float smallest = 1, largest = 3;  ///< diameters
  float mix = 0.3f;                 ///< 0 nearly all small … 1 nearly all large
  float cover = 0.1f;               ///< 0…0.6: the part of the skin they take where they are densest
  float everywhere = 1;             ///< 0…1: how dense they are away from the areas where they gather
  MaskTerms density;                ///< maps that thin them out; empty: none
  std::vector<HueZone> gather;      ///< areas where there are more, by their strength
  float ragged = 0.4f;              ///< 0 round … 1 torn
  float softness = 0.5f;            ///< 0 a hard edge … 1 fading from the middle on
  float fade = 0.5f;                ///< 0 all as strong … 1 some hardly there
  float raised = 0;                 ///< 0…1: the part of them that stands out
  float height = 0;                 ///< of those, at the middle of the largest
  uint32_t seed = 1;
  bool operator==(const Speckle&) const = default;
};

/// Cloudy variation of tone, or blood marbling.
struct Mottle {
  struct Tone {
    EncodedColor color;
    float alpha = 0.5f;  ///< 0…1
    bool operator==(const Tone&) const = default;
  };
  std::vector<Tone> tones;  ///< two to four, each with the same share of the skin
  float size = 20;          ///< of the large clouds
  float fine = 5;           ///< of the small ones
  float balance = 0.35f;    ///< 0 large alone … 1 small alone
  float softness = 0.7f;    ///< 0 hard edges between tones … 1 flowing into each other
  float bend = 0.3f;        ///< 0…1: how far the clouds follow ridges and creases
  float crease = 4;         ///< size of the forms that bend them
  float marbling = 0;       ///< 0 clouds … 1 a net of streaks
  uint32_t seed = 1;
  bool operator==(const Mottle&) const = default;
};

/// Branching vessels.
struct Veins {
  EncodedColor color{0.33f, 0.36f, 0.5f};
  std::vector<HueZone> roots;   ///< where they come from; `reach`: how far they grow, `strength`: how strong
  Vec3 toward = Vec3::UnitY();  ///< unit; the way they grow
  float fan = 0.6f;             ///< 0 straight that way … 1 all around
  MaskTerms region;             ///< maps of where they go; empty: everywhere
  float width = 2;              ///< at the root
  float finest = 0.3f;          ///< at the tips
  float spacing = 8;            ///< between the tips
  float wander = 0.6f;          ///< 0 straight … 1 winding
  float depth = 0.5f;           ///< under the skin: blurs and pales them; 0: on it
  float height = 0;             ///< by which the stem lifts the skin
  uint32_t seed = 1;
  bool operator==(const Veins&) const = default;
};

template <>
std::span<const Member<Speckle>> membersOf();
template <>
std::span<const Member<Mottle>> membersOf();
template <>
std::span<const Member<Veins>> membersOf();

SourcePointer speckleSource(Speckle speckle);
SourcePointer mottleSource(Mottle mottle);
SourcePointer veinSource(Veins veins);
/// What a layer of that kind is set to, or null for others.
const Speckle* speckleOf(const LayerSource& source);
const Mottle* mottleOf(const LayerSource& source);
const Veins* veinsOf(const LayerSource& source);

/// One vessel from a fork to the next: places along the skin and how thick it is at each (radii).
struct VeinPath {
  std::vector<Vec3> places, normals;
  std::vector<float> radii;
  uint32_t part = 0;
};
/// The vessels of a layer, as they lie on the skin.
Result<std::vector<VeinPath>> grownVeins(SurfaceMaps& maps, const Veins& veins,
                                         const Progress& progress = {});

}  // namespace juvenor
