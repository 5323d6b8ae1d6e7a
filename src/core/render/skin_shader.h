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

namespace juvenor {

class SkinShader {
 public:
  /// Both outlive it.
  SkinShader(const ShadeInput& input, const Lens& lens);

  /// Linear light, not below 0 and not bounded above. The first as grey.
  Vec3 clay(const Mixed& place) const;
  Vec3 skin(const Mixed& place) const;

 private:
  // What the light says of a pixel before any colour comes in.
  struct Lit {
    std::array<float, 4> light{};  // red, green, blue, and Clay
    Vec3 position, normal, bent, toViewer;
    float rougher = 0;  // what relief finer than the pixel adds to the square of a lobe's width
    Aperture sky;
    std::array<float, kLampCount> lamps{};
  };
  // What is mirrored, and the part of the light that is not left for what lies below.
  struct Shine {
    Vec3 light = Vec3::Zero(), taken = Vec3::Zero();
  };

  Lit litAt(const Mixed& m) const;
  void bend(const Mixed& m, Lit& lit) const;
  void shadeByHair(Lit& lit) const;
  float receivedBy(const Vec3& normal, const Lit& lit) const;
  std::array<float, 3> bumped(const Lit& lit) const;
  Vec3 comingOut(const Mixed& m, const Lit& lit, const Vec3& albedo) const;
  Vec3 receivedAt(const Mixed& m) const;
  Vec3 coated(const Lit& lit, float coat, const Vec3& below) const;
  Vec3 downy(const Lit& lit, float fuzz, const Vec3& albedo, const Vec3& below) const;
  Shine shineOf(const Lit& lit, const Lobes& lobes, const Vec3& reflectance, const Vec3& walls) const;
  Vec3 lampShine(const Lit& lit, const Vec3& reflectance, float width) const;
  Vec3 drySkin(const Mixed& m, const Lit& lit) const;
  Vec3 eye(const Mixed& m, const Lit& lit, const Cornea& cornea) const;

  const ShadeInput& in_;
  const Lens& lens_;
  LitBy by_;
  Harmonics clay_{}, soft_{};  // as brightness
  std::array<float, kLampCount> brightness_{};
  float exposure_;
};

}  // namespace juvenor
