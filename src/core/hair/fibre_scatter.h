// How a fibre of hair scatters light: the two lobes of Marschner, Jensen, Cammarano, Worley, Hanrahan 2003
// that one sees on hair lit from before. The first is mirrored by its outside, white, and leans toward the
// root as the scales of the cuticle do; the second went in, came back from the far side and out again, in the
// fibre's own colour, wider and leaning the other way. Simplified: around the fibre the second is one broad
// lobe instead of two glints, what goes straight through is left out, and along it both are Gaussians over
// the angle of light rather than half of it, so that no more leaves than falls in.
#pragma once

#include "core/vec.h"

namespace juvenor {

struct FibreLight {
  Vec3 tangent;   ///< unit, toward the tip
  Vec3 toLight;   ///< unit
  Vec3 toViewer;  ///< unit
};

/// How far the first lobe leans toward the root, radians (Marschner and others: 5° to 10° for the fibre's
/// half angle).
inline constexpr float kCuticleTilt = 0.1f;

/// What leaves to the viewer of light from one direction, per steradian, with the cosine to the fibre in it.
/// `absorption`: along a radius; `shine` 0…1: 1 the narrowest.
Vec3 scattered(const FibreLight& light, const Vec3& absorption, float shine);
/// What the first lobe has of it alone.
float scatteredFirst(const FibreLight& light, float shine);

/// What is left of light that goes through a fibre and back.
Vec3 throughAndBack(const Vec3& absorption);

/// Width of the first lobe along the fibre, radians.
float fibreWidth(float shine);

/// The direction around which the first lobe mirrors what lies on the viewer's side.
Vec3 mirroredByFibre(const Vec3& tangent, const Vec3& toViewer);

}  // namespace juvenor
