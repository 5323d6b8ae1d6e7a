// Light that comes from a place of the skin to the viewer: what wandered in the skin, and what is mirrored at
// once (shine.h), by the skin itself, down on it and a wet film over it. Relief bends the normals of both:
// diffuse light follows by what the bent normal would receive in the open over what the surface's own would;
// relief too fine for a pixel makes it rougher instead (Toksvig 2005). Through a cornea the disc behind it is
// seen (cornea.h).
#pragma once

#include "core/render/aperture.h"
#include "core/render/cornea.h"
#include "core/render/mixed.h"
#include "core/render/picture.h"
#include "core/render/shine.h"
#include "core/render/shine_places.h"

namespace juvenor {

class SkinShader {
 public:
  /// Both outlive it.
  SkinShader(const ShadeInput& input, const Lens& lens);

  /// Linear light, not below 0 and not bounded above, as grey.
  Vec3 clay(const Mixed& place) const;
  /// The same in colour, of up to ShinePlaces::kMost places at once.
  void skin(std::span<const Mixed> places, std::span<Vec3> out) const;

 private:
  // What the light says of a pixel before any colour comes in.
  struct Lit {
    std::array<float, 4> light{};  // red, green, blue, and Clay
    Vec3 position, normal, bent, toViewer;
    float rougher = 0;  // what relief finer than the pixel adds to the square of a lobe's width
    Aperture sky;
    std::array<float, kLampCount> lamps{};
  };
  // Places that are shaded together.
  static constexpr size_t kMost = ShinePlaces::kMost;
  struct Batch {
    std::span<const Mixed> places;
    std::array<Lit, kMost> lit;
    std::array<const Cornea*, kMost> cornea;
    std::array<float, kMost> wet;  // the cornea's part, 0…1: at 1 nothing else is seen
  };

  Lit litAt(const Mixed& m) const;
  void bend(const Mixed& m, Lit& lit) const;
  void shadeByHair(Lit& lit) const;
  float receivedBy(const Vec3& normal, const Lit& lit) const;
  std::array<float, 3> bumped(const Lit& lit) const;
  Vec3 comingOut(const Mixed& m, const Lit& lit, const Vec3& albedo) const;
  Vec3 receivedAt(const Mixed& m) const;
  Vec3 downy(const Lit& lit, float fuzz, const Vec3& albedo, const Vec3& below) const;
  void addTo(ShinePlaces& shine, const Lit& lit, const Lobes& lobes, const Vec3& reflectance,
             const Vec3& walls) const;
  template <class Wants, class Ask, class Take>
  void shineWhere(size_t count, Wants wants, Ask ask, Take take) const;
  void coat(const Batch& batch, std::span<Vec3> seen) const;
  void drySkin(const Batch& batch, std::span<Vec3> out) const;
  Vec3 throughCornea(const Mixed& m, const Lit& lit, const Cornea& cornea) const;
  void eyes(const Batch& batch, std::span<Vec3> out) const;

  const ShadeInput& in_;
  const Lens& lens_;
  LitBy by_, mirrored_;        // all of the light, and what of it is shown where it is mirrored
  Harmonics clay_{}, soft_{};  // as brightness
  std::array<float, kLampCount> brightness_{};
  float exposure_;
};

}  // namespace juvenor
