#include "core/surface/mirror/mirrors.h"

#include "core/surface/mirror/rest_skin.h"

namespace juvenor {
namespace {

bool anyOf(const Mirrors::Across& across) {
  return across[0] || across[1] || across[2];
}

}  // namespace

Vec3 Mirrors::place(const Vec3& p, const Across& across) const {
  if (!rest_ || !anyOf(across)) return plainPlace(p, across);
  return rest_->posed(plainPlace(rest_->atRest(p), across));
}

Vec3 Mirrors::direction(const Vec3& v, const Across& across, const Vec3& at) const {
  if (!rest_ || !anyOf(across)) return plainDirection(v, across);
  return rest_->turnedToPose(plainDirection(rest_->turnedToRest(v, at), across),
                             plainPlace(rest_->atRest(at), across));
}

float Mirrors::side(const Vec3& p, size_t plane) const {
  return plainSide(rest_ ? rest_->atRest(p) : p, plane);
}

float Mirrors::sideOf(const Surface& surface, size_t sample, size_t plane) const {
  return plainSide(rest_ ? rest_->restOf(sample) : surface.positions[sample], plane);
}

Vec3 Mirrors::onPlane(const Vec3& p, size_t plane) const {
  const Vec3 q = rest_ ? rest_->atRest(p) : p;
  const Vec3 on = q - plainSide(q, plane) * axes_.col(static_cast<Eigen::Index>(plane));
  return rest_ ? rest_->posed(on) : on;
}

}  // namespace juvenor
