// How one shape has to be moved to lie on another: pairs of places in closed form (Umeyama 1991, by Eigen),
// and whole skins by iterative closest points (Besl, McKay 1992), where pairs are the nearest places that
// look the same way, each is brought onto the plane of the other (Chen, Medioni 1992), and the worst are left
// out (Chetverikov, Svirko, Stepanov, Krsek 2002).
#pragma once

#include <Eigen/Geometry>

#include "core/surface/rays/rays.h"

namespace juvenor {

/// Turned, scaled and moved: to = scale · turn · from + shift. `turn` may hold a reflection.
struct Similarity {
  float scale = 1;
  Eigen::Matrix3f turn = Eigen::Matrix3f::Identity();
  Vec3 shift = Vec3::Zero();

  Vec3 operator()(const Vec3& p) const { return scale * (turn * p) + shift; }
  Similarity inverse() const;
  /// This one after `first`.
  Similarity after(const Similarity& first) const;
  bool isIdentity() const { return scale == 1 && turn.isIdentity(0) && shift.isZero(0); }
  bool operator==(const Similarity& o) const {
    return scale == o.scale && turn == o.turn && shift == o.shift;
  }
};

/// The motion that takes `from` to `to` with the least sum of squares; `scaled`: their sizes may differ;
/// `reflected`: it is a mirror image. The error says when the places do not tell one (fewer than three, or
/// all on one line).
Result<Similarity> fitPairs(std::span<const Vec3> from, std::span<const Vec3> to, bool scaled,
                            bool reflected = false);

/// Places of a skin, and the way it looks there.
struct FitPoints {
  std::vector<Vec3> positions, normals;
};
/// At most `count` samples, spread along the curve all samples lie on; of one part, or with kNone of all.
FitPoints fitPointsOf(const Surface& surface, size_t count, uint32_t part = kNone);

struct RigidFit {
  Similarity motion;
  float rest = 0;   ///< scene units: the mean distance that is left, of those that are kept
  float found = 0;  ///< 0…1: how many of the points lie near anything at all
};
/// How skins are fitted.
struct FitSetting {
  float reach = 0;                   ///< scene units within which skin is looked for
  std::span<const char> parts = {};  ///< as Rays::Alike has them
  int rounds = 40;
  float keep =
      0.8f;  ///< 0…1: of the places that are found so many, the nearest; the rest may be what changed
};
/// Moves points onto the skin of `onto`, from where `start` brings them; its scale and its reflection stay.
RigidFit fitOnto(const FitPoints& points, const Rays& onto, const Similarity& start,
                 const FitSetting& setting);

}  // namespace juvenor
