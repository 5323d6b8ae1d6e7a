// What patterns follow on the skin: which way they lie, and how large they are where.
#pragma once

#include "core/growth/direction_field.h"
#include "core/layers/cell_touch.h"
#include "core/layers/mask_terms.h"
#include "core/layers/skin_stroke.h"
#include "core/layers/zones/hue_zone.h"

namespace juvenor {

/// A stroke that says which way the pattern lies; of two places at least.
using Comb = SkinStroke;

struct DirectionGuide {
  Vec3 flow = Vec3(0, -0.6f, -0.8f);  ///< unit, or zero: the way where nothing else is said
  float curvature = 0.5f;             ///< 0…1: how much it goes along limbs, ridges and creases
  float form = 20;                    ///< the size of those, scene units
  float turn = 0;                     ///< degrees by which the pattern lies against all that
  std::vector<Comb> combs;

  bool operator==(const DirectionGuide&) const = default;
};

struct SizeGuide {
  float size = 5;                ///< scene units
  float smallest = 0.4f;         ///< 0.1…1: of it, where maps and areas say so fully
  MaskTerms maps;                ///< full size where they show; empty: everywhere
  std::vector<HueZone> smaller;  ///< areas where it is less, by their strength
  /// By hand: the size times two to the strength, or by a negative one less; of all no more than four times
  /// either way.
  std::vector<SkinStroke> pushed;

  bool operator==(const SizeGuide&) const = default;
};

template <>
std::span<const Member<DirectionGuide>> membersOf();
template <>
std::span<const Member<SizeGuide>> membersOf();

struct Guides {
  DirectionGuide direction;
  SizeGuide size;
  std::vector<SkinStroke> soothed;  ///< by hand: where relief is weaker by the strength
  std::vector<CellTouch> cells;     ///< of scales: single ones that were touched
  std::vector<SkinStroke> edges;    ///< of hair: what lashes stand along

  bool operator==(const Guides&) const = default;
};

/// All strokes that lie on the skin.
inline std::array<std::vector<SkinStroke>*, 4> strokesOf(Guides& guides) {
  return {&guides.direction.combs, &guides.size.pushed, &guides.soothed, &guides.edges};
}

/// No pattern is finer than so many of the points' distances.
inline constexpr float kLeastSpacings = 3.5f;

/// Unit directions in the skin, one a sample; remembered by `maps`.
Result<std::shared_ptr<const std::vector<Vec3>>> directionsOf(SurfaceMaps& maps, const DirectionGuide& guide,
                                                              Symmetry symmetry,
                                                              const Progress& progress = {});

/// How large the pattern is wished at each sample, whatever points can show.
Result<std::vector<float>> wishedSizes(SurfaceMaps& maps, const SizeGuide& guide,
                                       const Progress& progress = {});

/// How small a pattern's forms are at their smallest, scene units.
struct Fineness {
  float finest = 0;  ///< there can be
  float wished = 0;  ///< asked for, finer than that where points are too few
};
struct Sizes : Fineness {
  std::vector<float> of;  ///< one a sample, scene units
  size_t bytes() const { return sizeof(float) * of.capacity(); }
};
/// How large the pattern is at each sample; never finer than points can show. Remembered by `maps`.
Result<std::shared_ptr<const Sizes>> sizesOf(SurfaceMaps& maps, const SizeGuide& guide,
                                             const Progress& progress = {});

/// As documents keep it.
void keepFineness(const Fineness& fineness, std::string& out);
/// Takes it from the front of `bytes`; false when it does not hold.
bool takeFineness(std::string_view& bytes, Fineness& out);
/// What one should know of sizes that points cannot show, or nothing.
std::string noteOf(const Fineness& fineness);

/// Guides that suit a sculpt of this size (scene units).
Guides usualGuides(float diagonal);

nlohmann::json toJson(const DirectionGuide& guide);
nlohmann::json toJson(const SizeGuide& guide);
/// What of it growth depends on: all but what its areas are called.
nlohmann::json growthOf(const SizeGuide& guide);
/// What is not given stays as it is in `fallback`; the error says what is wrong.
Result<DirectionGuide> directionGuideFrom(const nlohmann::json& json, DirectionGuide fallback = {});
Result<SizeGuide> sizeGuideFrom(const nlohmann::json& json, SizeGuide fallback = {});

/// As layers of patterns keep them under "direction", "size", "soothed",
/// "touched" and "edges".
void addGuides(const Guides& guides, nlohmann::json& parameters);
/// What stood there; null: stays as it is.
struct GivenGuides {
  const nlohmann::json *direction = nullptr, *size = nullptr, *soothed = nullptr, *touched = nullptr,
                       *edges = nullptr;
};
Outcome readGuides(const GivenGuides& given, Guides& out);

}  // namespace juvenor
