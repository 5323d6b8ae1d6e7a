// How skin and metal shine: the microfacet model of Walter, Marschner, Li, Torrance 2007 (GGX) with Smith's
// masking for both directions together (Heitz 2014) and Schlick's reflectance 1994. A surface has two lobes
// (Kelemen, Szirmay-Kalos 2001 and the practice of skin since: a sharp film of oil over a broad one). What
// light loses between rough facets is given back as in Turquin 2019, so that white metal stays white.
#pragma once

#include <array>
#include <span>

#include "core/vec.h"

namespace juvenor {

/// Reflectance of skin's oil and water straight on: index 1.4 (from memory).
inline constexpr float kSkinReflectance = 0.028f;

/// Width of a lobe (alpha of GGX, the square of the roughness) for a gloss 0…1: never a perfect mirror.
float lobeWidth(float gloss);

/// The two lobes of a gloss, and how much of the light the first, sharper one has.
struct Lobes {
  std::array<float, 2> width;
  float sharp = 0.7f;
};
Lobes lobesOf(float gloss);

/// Distribution of normals over the half vector's cosine; integrates with that cosine to 1.
float facets(float cosHalf, float width);
/// Masking and shadowing together, over 4 · cosIn · cosOut.
float visibleFacets(float cosIn, float cosOut, float width);
float schlick(float reflectance, float cosine);

/// What a lobe sends to the viewer of a light that is a disc `size` radians across, for a strength of one
/// (what a wall that faces it receives) and a reflectance of one: the lobe toward the place on the disc
/// nearest to the mirrored view, dimmed as it is widened (the representative point of Karis 2013). `away`:
/// one minus the cosine between view and half vector, for Schlick's reflectance.
struct MirroredDisc {
  float shine, away;
};
MirroredDisc mirroredDisc(const Vec3& normal, const Vec3& toViewer, const Vec3& toward, float size,
                          float width);

/// Scale and offset of the part of light from everywhere that a lobe sends to a viewer, 0…1 for any
/// reflectance: scale · reflectance + offset (Karis 2013).
std::array<float, 2> reflected(float cosOut, float width);

/// The table behind it, for who looks up many at once: scale and offset, by kReflectedCosines cosines 0…1 in
/// even steps, row by row of kReflectedWidths roots of widths 0…1.
inline constexpr int kReflectedCosines = 32, kReflectedWidths = 32;
std::span<const float> reflectedTable();

}  // namespace juvenor
