// Patterns that grow on the skin: what they are set to. Each is a kind of layer with a file of its own in
// sources/, follows the guides, and dies out by its own forms where the layer's mask fades. All sizes in
// scene units, everything random from the seed.
#pragma once

#include "core/layers/guides.h"
#include "core/layers/sources/markings.h"

namespace juvenor {

enum class ScaleShape {
  Pebble,   ///< round, side by side as they fall
  Plate,    ///< flat hexagons in rows
  Leaf,     ///< each lies over the next along the direction
  Shield,   ///< large, long, with a keel
  Granules  ///< large ones with small ones between
};

/// What a ramp over a scale is looked up by, 0…1.
enum class ScaleCoordinate {
  Edge,    ///< from the border to the middle
  Along,   ///< from root to tip
  Across,  ///< from the middle line to the sides
  Each     ///< a number of its own
};

struct Scales {
  Guides guides;
  ScaleShape shape = ScaleShape::Pebble;
  float stretch = 1;     ///< 0.4…4: length by width
  float rows = 0;        ///< 0 as they fall … 1 in staggered rows
  float large = 0.5f;    ///< of granules: the part that is large
  float small = 0.4f;    ///< 0.2…0.8: width of the small ones by that of the large
  float overlap = 0.5f;  ///< of leaves: 0 hardly … 1 far over the next
  float point = 0.25f;   ///< of leaves: 0 round … 1 pointed

  float groove = 0.25f;  ///< 0…1: of half a width, how wide the groove between them is
  float depth = 0.3f;    ///< scene units from the groove to the top of a scale
  float dome = 0.6f;     ///< 0 flat … 1 round
  float keel = 0;        ///< 0…1: a ridge along the middle
  float tilt = 0;        ///< −1…1: the tip raised, or the root
  float uneven = 0.15f;  ///< 0…1: how much heights differ
  float wear = 0.15f;    ///< 0…1: how rubbed they are, and how many

  ScaleCoordinate over = ScaleCoordinate::Edge;
  RampStops ramp{{0, {0.25f, 0.27f, 0.17f}, 0.9f, {}}, {1, {0.45f, 0.46f, 0.29f}, 0.9f, {}}};
  ColorVariety variety{0.04f, 0.12f, 6};
  EncodedColor grooveColor{0.14f, 0.13f, 0.1f};
  float grooveCover = 0.7f;                 ///< 0…1
  float edgeLight = 0.15f;                  ///< 0…1: a light rim inside the groove
  float gloss = 0.6f, grooveGloss = 0.25f;  ///< 0…1
  uint32_t seed = 1;

  bool operator==(const Scales&) const = default;
};

/// What a shape is usually like; guides, colours and seed stay.
Scales usualScales(ScaleShape shape, Scales scales);

/// Stripes of even distance: bands over a back, rings around limbs and fins. The size of the guides is from
/// one band to the next; they lie across the direction.
struct Bands {
  Guides guides;
  float width = 0.45f;     ///< 0…1: of the way from one to the next
  float softness = 0.35f;  ///< 0 a hard edge … 1 fading from the middle on
  float wavy = 0.25f;      ///< 0 straight … 1 winding
  float broken = 0;        ///< 0 whole … 1 gone
  float uneven = 0.2f;     ///< 0 all as wide … 1 now wide, now hardly there
  float grain = 2;         ///< 0.2…10: size of what bends and breaks them, by that of the guides
  RampStops ramp{{0, {0.2f, 0.16f, 0.11f}, 0.75f, {}}};  ///< from the edge of a band to its middle
  float gloss = 0.45f, glossCover = 0;                   ///< 0…1: of bands, and how much of it they bring
  float height = 0;                                      ///< scene units at the middle of a band
  uint32_t seed = 1;

  bool operator==(const Bands&) const = default;
};

template <>
std::span<const Member<Scales>> membersOf();
template <>
std::span<const Member<Bands>> membersOf();

SourcePointer bandSource(Bands bands);
/// What a layer of the kind is set to, or null for others.
const Bands* bandsOf(const LayerSource& source);

/// Spots and labyrinths that two substances leave in the skin. The size of the guides is from one to the
/// next.
struct Spots {
  Guides guides;
  std::string look = "spots";  ///< one of the known ones
  float stretch = 1;           ///< 0.3…3: how much longer they are along the direction than across
  float age = 0.5f;            ///< 0 just grown … 1 long settled
  float amount = 0.5f;         ///< 0 hardly any … 1 most of what can be
  float softness = 0.3f;       ///< 0 a hard edge … 1 fading from the middle on
  RampStops ramp{{0, {0.24f, 0.17f, 0.1f}, 0.75f, {}}};  ///< from the edge of a spot to its middle
  float gloss = 0.45f, glossCover = 0;                   ///< 0…1: of spots, and how much of it they bring
  float height = 0;                                      ///< scene units at the middle of a spot
  uint32_t seed = 1;

  bool operator==(const Spots&) const = default;
};

/// What there is to choose from, and what one calls it.
struct SpotLook {
  std::string_view key, label, does;
  float feed, kill, wavelength;  ///< of ReactionSetting
};
std::span<const SpotLook> spotLooks();
/// Null for a key that is not known.
const SpotLook* spotLook(std::string_view key);

template <>
std::span<const Member<Spots>> membersOf();

SourcePointer spotSource(Spots spots);
/// What a layer of the kind is set to, or null for others.
const Spots* spotsOf(const LayerSource& source);

/// Pores, lozenges and creases of a living skin. The size of the guides is from one line to the next; the
/// direction is the pull of the skin, which lozenges and creases lie across.
struct FineSkin {
  Guides guides;
  std::vector<HueZone> regions;  ///< what skin each is like (`like`) is one of skinLikes
  float stretch = 1.6f;          ///< 1…3: of lozenges, how much longer they are across the pull
  float even = 0.5f;             ///< 0 as they fall … 1 all alike
  float lines = 0.5f;            ///< 0…1: how deep and wide the lines between them are
  float pores = 0.5f;            ///< 0…1: how many corners have one, and how wide it is
  float creases = 0.3f;          ///< 0…1: how deep and whole longer folds are
  float apart = 5;               ///< 2…12: from one of those to the next, by the size
  float depth = 0.1f;            ///< scene units: of a whole line; pores and creases are deeper by themselves
  float gloss = 0.42f;           ///< 0…1: on average
  float sheen = 0.25f;           ///< 0…1: how much glossier tops are than lines and pores
  float glossCover = 0.8f;       ///< 0…1: how much of that it brings
  EncodedColor color{0.42f, 0.2f, 0.15f};  ///< what gathers in lines and pores
  float cover = 0.18f;                     ///< 0…1: how much of it
  uint32_t seed = 1;

  bool operator==(const FineSkin&) const = default;
};

/// How skin of a part of the body differs from skin at large: factors.
struct SkinLike {
  std::string_view key, label;
  float size, lines, pores, creases;
};
std::span<const SkinLike> skinLikes();
/// Null for a key that is not known.
const SkinLike* skinLike(std::string_view key);

template <>
std::span<const Member<FineSkin>> membersOf();

SourcePointer fineSkinSource(FineSkin skin);
/// What a layer of the kind is set to, or null for others.
const FineSkin* fineSkinOf(const LayerSource& source);

SourcePointer scaleSource(Scales scales);
/// What a layer of the kind is set to, or null for others.
const Scales* scalesOf(const LayerSource& source);

}  // namespace juvenor
