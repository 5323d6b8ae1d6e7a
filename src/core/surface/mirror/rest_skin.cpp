#include "core/surface/mirror/rest_skin.h"

#include "core/surface/build/elsewhere.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// Whatever is asked for, some sample is nearest.
uint32_t nearestTo(const Surface& surface, const Vec3& place) {
  for (float reach = 4 * surface.spacing; reach < 1e30f; reach *= 8)
    if (const auto s = nearestSample(surface, place, reach)) return *s;
  return 0;
}

}  // namespace

RestSkin::RestSkin(std::shared_ptr<const Surface> posed, std::vector<Vec3> rest) : posed_(std::move(posed)) {
  const auto whole = elsewhere(*posed_, std::move(rest));
  auto slim = std::make_shared<Surface>();
  slim->positions = whole->positions;
  slim->normals = whole->normals;
  slim->parts = whole->parts;
  slim->blocks = whole->blocks;
  slim->groups = whole->groups;
  slim->bounds = whole->bounds;
  slim->spacing = whole->spacing;
  slim->partCount = whole->partCount;
  rest_ = std::move(slim);
}

std::shared_ptr<const RestSkin> RestSkin::over(std::shared_ptr<const Surface> posed) const {
  auto out = std::shared_ptr<RestSkin>(new RestSkin());
  out->posed_ = std::move(posed);
  out->rest_ = rest_;
  return out;
}

std::shared_ptr<const Surface> RestSkin::surfaceAtRest() const {
  return elsewhere(*posed_, rest_->positions);
}

// The normal, the way to a neighbour that is the same in both poses, and what is across.
Eigen::Matrix3f RestSkin::frameOf(const Surface& surface, uint32_t sample) const {
  const Vec3& normal = surface.normals[sample];
  Vec3 along = Vec3::Zero();
  for (const uint32_t n : posed_->neighborsOf(sample)) {
    const Vec3 way = surface.positions[n] - surface.positions[sample];
    along = way - way.dot(normal) * normal;
    if (along.squaredNorm() > 1e-6f * way.squaredNorm()) break;
  }
  along = normalizedOr(along, normal.unitOrthogonal());
  Eigen::Matrix3f out;
  out << along, normal.cross(along), normal;
  return out;
}

Vec3 RestSkin::atRest(const Vec3& posed) const {
  const uint32_t s = nearestTo(*posed_, posed);
  return rest_->positions[s] +
         frameOf(*rest_, s) * (frameOf(*posed_, s).transpose() * (posed - posed_->positions[s]));
}

Vec3 RestSkin::posed(const Vec3& atRest) const {
  const uint32_t s = nearestTo(*rest_, atRest);
  return posed_->positions[s] +
         frameOf(*posed_, s) * (frameOf(*rest_, s).transpose() * (atRest - rest_->positions[s]));
}

Vec3 RestSkin::turnedToRest(const Vec3& direction, const Vec3& posed) const {
  const uint32_t s = nearestTo(*posed_, posed);
  return frameOf(*rest_, s) * (frameOf(*posed_, s).transpose() * direction);
}

Vec3 RestSkin::turnedToPose(const Vec3& direction, const Vec3& atRest) const {
  const uint32_t s = nearestTo(*rest_, atRest);
  return frameOf(*posed_, s) * (frameOf(*rest_, s).transpose() * direction);
}

}  // namespace juvenor
