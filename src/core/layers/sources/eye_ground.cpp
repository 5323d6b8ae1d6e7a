#include "core/layers/sources/eye_ground.h"

#include <fmt/format.h>

#include <cmath>
#include <unordered_map>

#include "core/layers/sources/prepared_marking.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// Skin that far off a ball, by its radius, lies on it where no part says so.
constexpr float kOnBall = 0.1f;

bool liesOn(const Surface& surface, const EyeBall& ball, uint32_t sample) {
  if (ball.part != kNone) return surface.parts[sample] == ball.part;
  return std::abs((surface.positions[sample] - ball.center).norm() - ball.radius) < kOnBall * ball.radius;
}

// Places in cells so wide, to find those near another.
class NearPlaces {
 public:
  explicit NearPlaces(float cell) : cell_(cell) {}
  void add(const Vec3& place) { cells_[keyOf(cellOf(place))].push_back(place); }
  /// How far the nearest is; no less than a cell's width where none is near.
  float distance(const Vec3& place) const {
    const std::array<int64_t, 3> at = cellOf(place);
    float far2 = cell_ * cell_;
    for (int64_t z = at[2] - 1; z <= at[2] + 1; ++z)
      for (int64_t y = at[1] - 1; y <= at[1] + 1; ++y)
        for (int64_t x = at[0] - 1; x <= at[0] + 1; ++x)
          if (const auto found = cells_.find(keyOf({x, y, z})); found != cells_.end())
            for (const Vec3& other : found->second) far2 = std::min(far2, (other - place).squaredNorm());
    return std::sqrt(far2);
  }

 private:
  std::array<int64_t, 3> cellOf(const Vec3& p) const {
    return {floorToWhole(p.x() / cell_), floorToWhole(p.y() / cell_), floorToWhole(p.z() / cell_)};
  }
  static uint64_t keyOf(const std::array<int64_t, 3>& cell) {
    uint64_t out = 0;
    for (const int64_t c : cell) sign(out, c);
    return out;
  }
  float cell_;
  std::unordered_map<uint64_t, std::vector<Vec3>> cells_;
};

std::string groundKey(const EyeBall& ball, float rim) {
  const Vec3& c = ball.center;
  return fmt::format("eye {} {} {} {} {} {}", ball.part, c.x(), c.y(), c.z(), ball.radius, rim);
}

EyeGround groundOf(const Surface& surface, const EyeBall& ball, float rim) {
  EyeGround out;
  std::vector<uint32_t> around;
  if (ball.part == kNone)
    samplesWithin(surface, ball.center, (1 + kOnBall) * ball.radius, around);
  else
    for (uint32_t s = 0; s < surface.size(); ++s)
      if (surface.parts[s] == ball.part) around.push_back(s);
  std::ranges::copy_if(around, std::back_inserter(out.samples),
                       [&](uint32_t s) { return liesOn(surface, ball, s); });
  out.wet.assign(out.samples.size(), 0);
  if (!(rim > 0)) return out;
  around.clear();
  samplesWithin(surface, ball.center, 1.1f * ball.radius + rim, around);
  NearPlaces lids(rim);
  bool any = false;
  for (const uint32_t s : around)
    if (!liesOn(surface, ball, s)) {
      lids.add(surface.positions[s]);
      any = true;
    }
  for (size_t i = 0; any && i < out.samples.size(); ++i)
    out.wet[i] = 1 - std::min(1.f, lids.distance(surface.positions[out.samples[i]]) / rim);
  return out;
}

}  // namespace

Result<std::shared_ptr<const EyeGround>> eyeGround(SurfaceMaps& maps, const EyeBall& ball, float rim) {
  return maps.derived<EyeGround>(groundKey(ball, rim), [&]() -> Result<std::shared_ptr<const EyeGround>> {
    return std::make_shared<const EyeGround>(groundOf(maps.surface(), ball, rim));
  });
}

bool hasEyeGround(SurfaceMaps& maps, const EyeBall& ball, float rim) {
  return maps.hasDerived(groundKey(ball, rim));
}

}  // namespace juvenor
