// Sheets of paint the demo documents open with: colours by place and noise, so that they are the same for
// every density of points.
#pragma once

#include <functional>
#include <vector>

#include "core/layers/layer.h"
#include "demo/colors.h"
#include "demo/shapes.h"

namespace juvenor::demo {

/// Colour and strength 0…1 at a place.
struct Tint {
  EncodedColor color;
  float strength = 0;
};
using Painter = std::function<Tint(const Vec3& position, const Vec3& normal, uint32_t part)>;

/// A painted layer.
struct Sheet {
  const char* name;
  Stratum stratum;
  BlendMode blend;
  float opacity;
  Painter painter;
};

/// 1 at a centre, 0 beyond a ragged reach.
float near(const Vec3& p, const Vec3& center, float reach);
std::vector<Sheet> ferrymanSheets();
/// What lies below the keeper's zones, and what lies over them.
std::vector<Sheet> keeperGround();
std::vector<Sheet> keeperSheets();

}  // namespace juvenor::demo
