// Light that comes from a fibre of hair to the viewer: its two lobes (fibre_scatter.h), and what went through
// many fibres beside it and leaves as from a soft wall of their tone. Lamps are cut off by other fibres and
// by what stands in their way at the root; the sky is seen less the nearer the root.
#pragma once

#include "core/render/picture.h"

namespace juvenor {

class FibreShader {
 public:
  /// Both outlive it; of the input `hair` is there.
  FibreShader(const ShadeInput& input, const Lens& lens);

  /// Linear light of a place on a segment, `along` 0…1.
  Vec3 light(uint32_t segment, float along) const;

 private:
  Vec3 soft(const Vec3& normal) const;

  const ShadeInput& in_;
  const Lens& lens_;
  LitBy by_;
  float exposure_;
};

/// A direction toward a lamp's disc, another one for each place and turn: what it is cut off by softens over
/// many pictures.
Vec3 towardDisc(const LitBy::Source& lamp, const Vec3& place, uint32_t turn);

}  // namespace juvenor
