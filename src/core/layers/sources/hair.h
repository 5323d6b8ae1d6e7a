// Hair: short fibres that stand on the skin, where the layer's mask shows or along edges one draws. A layer
// of it brings the tone the skin has under them; the fibres themselves are grown where a picture is made
// (core/hair), from what is worked out here: where each has its root, which way it lies and how long it is.
// All lengths in scene units.
#pragma once

#include <array>

#include "core/color/srgb.h"
#include "core/layers/guides.h"
#include "core/layers/source.h"
#include "core/seeded.h"

namespace juvenor {

struct Hair {
  /// Which way it is combed; the size is how long fibres are, and they stand along edges alone where there
  /// are any.
  Guides guides;
  float apart = 1;      ///< from root to root where all of the mask shows
  float uneven = 0.5f;  ///< how much shorter some of them are
  float thickness = 0.08f, taper = 0.7f;
  float lift = 30;    ///< degrees off the skin at the root
  float bend = 0.4f;  ///< toward the direction on the way to the tip; below 0 away from the skin
  float clump = 0.25f, clumpSize = 4;
  float stray = 0.25f;  ///< how far they leave the direction
  float eumelanin = 1.3f, pheomelanin = 0.2f, grey = 0.05f;
  float shine = 0.6f;
  float under = 0.5f;  ///< how much of their tone the skin below has
  float edgeApart = 0.35f;
  uint32_t seed = 1;

  bool operator==(const Hair&) const = default;
};
template <>
std::span<const Member<Hair>> membersOf();

/// Hair one may begin from: what of it is no matter of where it grows.
struct UsualHair {
  std::string_view key, label, does;
  Hair (*of)(Hair hair);  ///< lengths for a scene unit of one millimetre
};
std::span<const UsualHair> usualHair();
/// One of them with lengths for a sculpt of this size; colours, edges and what was combed stay as in `hair`.
Hair usualHairOn(const UsualHair& usual, Hair hair, float diagonal);

/// Where a fibre stands.
struct HairRoot {
  Vec3 position;
  uint32_t triangle = 0;
  Vec2 weights;               ///< of the triangle's second and third sample
  uint64_t draw;              ///< random bits of its own
  Vec3 along = Vec3::Zero();  ///< of those on edges: the way that runs; else zero
  float share = 0;            ///< of those on edges: how far along it, 0…1
};

/// What fibres of a layer grow from.
struct HairGround {
  Hair hair;
  std::shared_ptr<const std::vector<HairRoot>> roots;
  std::shared_ptr<const std::vector<Vec3>> directions;  ///< unit, one a sample
  std::shared_ptr<const std::vector<float>> lengths;    ///< one a sample
};
/// Of a source that was worked out; null for other kinds.
const HairGround* hairGroundOf(const PreparedSource& source);

/// What one fibre absorbs (hair_tone.h): single ones hold more or less melanin, and grey ones none.
Vec3 fibreAbsorption(const Hair& hair, Draws& draws);

/// The tone of the skin under it: linear.
Vec3 toneOf(const Hair& hair);

SourcePointer hairSource(Hair hair);
/// The settings of a layer of hair; null for other kinds.
const Hair* hairOf(const LayerSource& source);

}  // namespace juvenor
