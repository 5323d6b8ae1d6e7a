// What one eye looks like at a place of its ball: colour, gloss and height. The iris is drawn as it is seen
// from the front, by how far a place is from the pupil's edge and from its own, so that every shape of pupil
// has its fibres; the white darkens and reddens to the back. Noise runs around the iris without a seam.
#pragma once

#include "core/color/oklab.h"
#include "core/layers/sources/eyes.h"

namespace juvenor {

/// A place of an iris or beside it.
struct IrisPlace {
  float angle = 0;   ///< around the look, radians
  float inside = 0;  ///< from the iris' rim inward, scene units; below 0 on the white
  float past = 0;    ///< from the pupil's edge outward, scene units; below 0 in it
  float part = 0;    ///< 0 at the pupil … 1 at the rim
  float front = 1;   ///< the cosine to the look
  Vec2 across;       ///< from the middle, as seen from the front, scene units
};

struct EyeSample {
  Oklab color;
  float height = 0;  ///< scene units
};

class EyeLook {
 public:
  EyeLook(const Eyes& eyes, const EyeBall& ball);

  IrisPlace placeOf(const Vec3& place) const;
  /// What nothing finer than `apart` (scene units) is drawn into. `vessel`: how much of one covers the place,
  /// `wet`: how near a lid is, both 0…1.
  EyeSample at(const IrisPlace& place, float apart, float vessel, float wet) const;

  const EyeBall& ball() const { return ball_; }
  /// Whether its inner corner lies to the right: toward the other eye.
  bool innerIsRight() const { return inner_ > 0; }
  /// Of the pupil, as seen from the front, scene units.
  const Vec2& pupilMiddle() const { return middle_; }
  /// Right and up as the face is looked at, unit.
  const Vec3& right() const { return right_; }
  const Vec3& up() const { return up_; }

 private:
  float pupilDistance(const Vec2& at) const;
  Oklab ringAt(float part) const;
  float bent(const IrisPlace& place) const;
  EyeSample strands(const IrisPlace& place, float apart) const;
  void sink(const IrisPlace& place, float apart, EyeSample& sample) const;
  void sprinkle(const IrisPlace& place, float apart, Oklab& color) const;
  void darkenRims(const IrisPlace& place, float apart, Oklab& color) const;
  EyeSample iris(const IrisPlace& place, float apart) const;
  Oklab white(const IrisPlace& place, float vessel) const;
  void drawLid(const IrisPlace& place, float apart, float vessel, EyeSample& sample) const;
  float uneven(float angle, uint32_t which) const;

  Eyes eyes_;
  EyeBall ball_;
  Vec3 right_, up_;
  Vec2 middle_;  // of the pupil
  uint32_t seed_;
  std::vector<Oklab> rings_;
  Oklab brown_, fleck_, white_, vessel_, lid_;
  float inner_ = 1;  // the side of the other eye: 1 to the right, -1
};

}  // namespace juvenor
