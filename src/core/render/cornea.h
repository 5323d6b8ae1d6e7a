// What an eye is to the renderer: a clear skin before a disc. A ray that meets it is refracted (Snell) and
// goes on to the disc of the iris, which lies where the iris meets the white, and deeper by its recess; what
// is painted before that place is seen there. So an iris lies in the eye from every side, and a pupil looks
// as large as a cornea makes it. What is mirrored follows Fresnel's equations.
#pragma once

#include <optional>
#include <vector>

#include "core/layers/layer.h"

namespace juvenor {

/// Refractive index of the cornea (Gullstrand's schematic eye, from memory).
inline constexpr float kCorneaIndex = 1.376f;
/// What it reflects straight on: ((n − 1) / (n + 1))².
inline constexpr float kCorneaReflectance =
    (kCorneaIndex - 1) * (kCorneaIndex - 1) / ((kCorneaIndex + 1) * (kCorneaIndex + 1));

/// The direction in which light goes on that comes along `direction` (unit) and meets a surface whose unit
/// `normal` looks back at it; `ratio`: the index it leaves over the one it enters. Nothing: all of it is
/// reflected.
std::optional<Vec3> refracted(const Vec3& direction, const Vec3& normal, float ratio);

/// How much of light a clear surface of an index reflects at a cosine 0…1, by how it is polarised.
struct Fresnel {
  float across = 0;  ///< perpendicular to the plane of incidence
  float along = 0;   ///< in it; none at Brewster's angle
  float mean() const { return 0.5f * (across + along); }
};
Fresnel fresnelOf(float cosine, float index);

/// One eye. Lengths in scene units.
struct Cornea {
  uint32_t part = kNone;  ///< all of it; kNone: whatever skin lies on the ball
  Vec3 center = Vec3::Zero(), look = Vec3::UnitZ();
  float radius = 12;  ///< of the ball
  float iris = 5.9f;
  float plane = 10;  ///< how far from the middle along the look the disc of the iris lies

  bool operator==(const Cornea&) const = default;
};

/// How far from the middle of a ball its iris' disc lies: where the iris meets the white, less a recess.
float irisPlane(float radius, float iris, float recess);

/// The eyes that layers show: all those at least half opaque.
std::vector<Cornea> corneasOf(const LayerStack& layers);

/// How much of a place of the skin is cornea, 0…1: all of it to the iris' rim, then soon nothing.
float corneaAt(const Cornea& cornea, uint32_t part, const Vec3& place);

/// Where on the disc a look meets it that comes from `toViewer` at a place whose unit normal is `normal`:
/// from the disc's middle, perpendicular to the look. Never beyond the iris' rim.
Vec3 irisSeen(const Cornea& cornea, const Vec3& place, const Vec3& normal, const Vec3& toViewer);

/// The direction from the middle of the ball in which the skin is painted that lies before a place of the
/// disc.
Vec3 paintedBefore(const Cornea& cornea, const Vec3& onDisc);

}  // namespace juvenor
