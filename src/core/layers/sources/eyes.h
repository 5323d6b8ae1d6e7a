// Eyes: what makes balls look back. All lengths in scene units; places of an iris are told as its owner's
// face is looked at, x to the right and y up.
#pragma once

#include "core/layers/source.h"
#include "core/members.h"

namespace juvenor {

/// One ball. Two of a face are never the same: each has a seed.
struct EyeBall {
  uint32_t part = kNone;  ///< all of it; kNone: whatever skin lies on the ball
  Vec3 center = Vec3::Zero();
  float radius = 12;
  Vec3 look = Vec3::UnitZ();  ///< unit: from the middle through that of the pupil
  Vec3 up = Vec3::UnitY();    ///< unit: the way its slit stands, as far as the look leaves it
  uint32_t seed = 1;

  bool operator==(const EyeBall&) const = default;
};

/// A ring of the iris, from the pupil outward: what melanin makes of it, drawn toward a free colour.
struct IrisRing {
  float melanin = 0.3f;
  EncodedColor color{0.55f, 0.42f, 0.2f};
  float colored = 0;  ///< 0…1: how much of that

  bool operator==(const IrisRing&) const = default;
};

/// Green grey, browner around the pupil.
std::vector<IrisRing> usualRings();

enum class PupilShape {
  Round,
  Upright,  ///< a slit
  Level,    ///< a slit across
  Keyhole,
  Drawn
};
std::span<const std::pair<PupilShape, std::string_view>> pupilShapes();

struct Eyes {
  std::vector<EyeBall> balls;
  // the iris
  float iris = 5.9f;  ///< radius, as seen from the front
  float pupil = 1.9f;
  std::vector<IrisRing> rings = usualRings();
  PupilShape shape = PupilShape::Round;
  std::vector<Vec2> outline;  ///< of a drawn one, closed, in radii of the pupil
  float slit = 0.3f;
  float uneven = 0.5f;
  float fibres = 0.6f, strands = 90, collarette = 0.35f, crypts = 0.35f, furrows = 0.35f, spots = 0.1f;
  float flecks = 0;
  EncodedColor fleckColor{0.85f, 0.66f, 0.25f};
  float limbus = 0.8f, limbusDark = 0.6f;
  float recess = 0.25f;
  // the white
  EncodedColor white{0.87f, 0.845f, 0.81f};
  float back = 0.6f, corners = 0.5f, cast = 0.15f;
  float vessels = 0.35f, vesselWidth = 0.12f;
  EncodedColor vesselColor{0.66f, 0.22f, 0.2f};
  float rim = 0.8f;  ///< how wide lids wet it
  float lid = 0;     ///< how far a third lid is drawn over it from the inner corner; 0: there is none
  EncodedColor lidColor{0.74f, 0.54f, 0.5f};
  float gloss = 0.97f;
  float wander = 0.35f;
  uint32_t seed = 1;

  bool operator==(const Eyes&) const = default;
};
template <>
std::span<const Member<Eyes>> membersOf();

/// Eyes one may begin from: what of the iris is not a size, and how old the white is.
struct UsualEye {
  std::string_view key, label, does;
  Eyes (*of)(Eyes eyes);
};
std::span<const UsualEye> usualEyes();

SourcePointer eyeSource(Eyes eyes);
/// The settings of a layer of eyes; null for other kinds.
const Eyes* eyesOf(const LayerSource& source);

}  // namespace juvenor
