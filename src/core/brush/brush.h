// What a brush is set to: footprint and strength apart, the shape of its tip, how much its dabs vary,
// pressure on any of it, mirror, and where paint may go.
#pragma once

#include <array>
#include <string>

#include "core/brush/stamp.h"
#include "core/surface/falloff.h"
#include "core/vec.h"

namespace juvenor {

/// How a pen's pressure becomes strength: a cubic Bézier from (0, 0) to (1, 1) with two handles one can drag.
struct PressureCurve {
  Vec2 first{0.33f, 0.33f};
  Vec2 second{0.67f, 0.67f};

  /// Strength 0…1 for a pressure 0…1; monotone when both handles lie in the unit square.
  float operator()(float pressure) const;
  bool operator==(const PressureCurve&) const = default;
};

enum class TipKind { Falloff, Stamp, Spray };
inline constexpr int kTipKindCount = 3;
/// The name in files and scripts ("spray").
std::string_view tipKey(TipKind kind);
std::optional<TipKind> tipFromKey(std::string_view key);

/// Dots scattered over the footprint.
struct SprayTip {
  float density = 0.12f;   ///< dots a square scene unit gets where the middle of the brush passes once
  float dotRadius = 0.7f;  ///< scene units
  float dotSpread = 0.4f;  ///< 0 all of one size … 1 from next to nothing to twice as large
  float dotHardness = 0.5f;
  float ragged = 0.3f;  ///< 0 round … 1 torn
  bool operator==(const SprayTip&) const = default;
};

/// A picture laid flat on the skin.
struct StampTip {
  StampPointer stamp;
  bool ownColors = false;  ///< lays the picture's colours in place of the pen's
  bool inverted = false;   ///< lays where the shape is not
  bool operator==(const StampTip&) const = default;
};

/// What turns a dab.
enum class TurnBy { Fixed, Stroke, Tilt, Random };
inline constexpr int kTurnByCount = 4;
std::string_view turnByKey(TurnBy by);
std::optional<TurnBy> turnByFromKey(std::string_view key);

/// How much dabs, and the dots of a spray, differ from each other. Everything is drawn evenly around its
/// middle and follows from the seed of the stroke.
struct Spread {
  float position = 0;   ///< radii away from the path, at most
  float size = 0;       ///< 0…1: at 1 from next to nothing to twice the size
  float angle = 0;      ///< degrees either way
  float strength = 0;   ///< 0…1: at 1 from nothing to all of it
  float lightness = 0;  ///< of Oklab, either way
  float chroma = 0;     ///< as a part of the colour's own, either way
  float hue = 0;        ///< degrees of Oklch either way
  bool colors() const { return lightness > 0 || chroma > 0 || hue > 0; }
  bool operator==(const Spread&) const = default;
};

struct Brush {
  float radius = 1;       ///< scene units
  float hardness = 0.2f;  ///< 0…1: the part of the radius at full strength
  float opacity = 1;      ///< 0…1: what one stroke can reach at most
  float flow = 0.1f;      ///< 0…1: what one dab adds
  float step = 0.2f;      ///< distance of dabs as a part of the radius
  float steady = 0;       ///< pixels: the length of the string by which the pen pulls the path behind it
  bool pressureSize = true;
  bool pressureOpacity = false;
  bool pressureFlow = true;
  bool pressureDots = false;  ///< how many a spray lays
  PressureCurve curve;
  std::array<bool, 3> mirror{};  ///< across x = 0, y = 0, z = 0
  float mirrorTolerance = 0;     ///< scene units; 0: three times the spacing of the surface
  /// How far the mirrored side goes its own way: 0 exactly the same … 1 only the region is shared.
  float looseness = 0;
  bool frontOnly = true;
  bool allParts = false;
  TipKind tip = TipKind::Falloff;
  SprayTip spray;
  StampTip stamp;
  TurnBy turnBy = TurnBy::Fixed;
  float angle = 0;  ///< degrees by which dabs are turned beside that
  Spread spread;

  bool operator==(const Brush&) const = default;
};

/// How many dots a square scene unit can have that keep the distance sprays keep: the relative radius of
/// Lagae and Dutré 2008.
inline constexpr float kRelativeRadius = 0.65f;
/// How many dots a square scene unit needs for this part of it to be covered, and the other way round.
float densityOfCover(const SprayTip& spray, float cover);
float coverOfDensity(const SprayTip& spray);
/// The distance dots of a density keep, scene units.
float dotDistance(float density);
/// What a brush does at one pressure.
struct DabStrength {
  float radius = 0, opacity = 0, flow = 0;
  float dots = 1;  ///< part of a spray's density
};
DabStrength strengthAt(const Brush& brush, float pressure);

}  // namespace juvenor
