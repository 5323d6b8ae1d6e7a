// What a brush is set to: footprint and strength apart, pressure on either, mirror, and where paint may go.
#pragma once

#include <array>
#include <string>

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

struct Brush {
  float radius = 1;       ///< scene units
  float hardness = 0.2f;  ///< 0…1: the part of the radius at full strength
  float opacity = 1;      ///< 0…1: what one stroke can reach at most
  float flow = 0.1f;      ///< 0…1: what one dab adds
  float step = 0.2f;      ///< distance of dabs as a part of the radius
  float steady = 0;       ///< seconds by which the path trails the hand, smoothing it
  bool pressureSize = true;
  bool pressureOpacity = false;
  bool pressureFlow = true;
  PressureCurve curve;
  std::array<bool, 3> mirror{};  ///< across x = 0, y = 0, z = 0
  float mirrorTolerance = 0;     ///< scene units; 0: three times the spacing of the surface
  bool frontOnly = true;
  bool allParts = false;
};

/// What a brush does at one pressure.
struct DabStrength {
  float radius = 0, opacity = 0, flow = 0;
};
DabStrength strengthAt(const Brush& brush, float pressure);

}  // namespace juvenor
