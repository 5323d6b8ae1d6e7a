// What the pen moves over: a picture of the skin as it stands in space, or of its sheet, where a flat mesh
// with the same triangle numbers is seen. Either way a pixel leads to a place of the skin, and all that comes
// after it is one.
#pragma once

#include "core/surface/rays/rays.h"
#include "core/view/camera.h"

namespace juvenor {

struct Eye {
  const Rays* skin = nullptr;
  const Rays* sheet = nullptr;  ///< of the flat mesh that is looked at; null: the skin itself is
  Camera camera;
  ViewSize size;
  std::set<uint32_t> hidden = {};  ///< parts

  std::optional<Hit> hitAt(const Vec2& pixel) const;
  /// The place of the skin; on a sheet it is looked at from straight above.
  std::optional<SurfacePoint> placeAt(const Vec2& pixel) const;
  SurfacePoint placeOf(const Hit& hit, const Vec2& pixel) const;
  /// How many pixels one scene unit of the skin covers at a place, in the mean of all directions.
  float pixelsPerUnit(const SurfacePoint& at) const;
  /// Where a way over the picture (right, down) goes in the scene; as long as it is in the picture.
  Vec3 along(const SurfacePoint& at, const Vec2& way) const;
};

}  // namespace juvenor
