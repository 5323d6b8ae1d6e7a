#include "core/hair/grow_fibre.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

constexpr float kDegree = std::numbers::pi_v<float> / 180;

// The skin a fibre grows over: which way is up, and which way it is combed.
struct Skin {
  Vec3 normal, combed;
};

Skin skinAt(const Surface& surface, const HairGround& ground, uint32_t triangle, const Vec2& weights) {
  const Triangle& t = surface.triangles[triangle];
  const float w = 1 - weights.x() - weights.y();
  const auto mix = [&](const std::vector<Vec3>& v) {
    return Vec3(w * v[t[0]] + weights.x() * v[t[1]] + weights.y() * v[t[2]]);
  };
  Skin out;
  out.normal = normalizedOr(mix(surface.normals), Vec3::UnitZ());
  const Vec3 combed = mix(*ground.directions);
  out.combed = normalizedOr(combed - out.normal * out.normal.dot(combed), out.normal.unitOrthogonal());
  return out;
}

uint32_t nearestCorner(const Triangle& t, const Vec2& weights) {
  const float w = 1 - weights.x() - weights.y();
  if (w >= weights.x() && w >= weights.y()) return t[0];
  return weights.x() >= weights.y() ? t[1] : t[2];
}

// The middle of the clump a place belongs to: the nearest of those that stand one in a cell of a grid, each
// somewhere in its cell (Worley 1996).
Vec3 clumpAround(const Vec3& place, float size, uint32_t seed) {
  const Vec3 cell = (place / size).array().floor().matrix();
  Vec3 best = place;
  float nearest = std::numeric_limits<float>::infinity();
  for (int i = 0; i < 27; ++i) {
    const Vec3 at = cell + Vec3(static_cast<float>(i % 3 - 1), static_cast<float>(i / 3 % 3 - 1),
                                static_cast<float>(i / 9 - 1));
    const auto bits = [](float v) { return static_cast<uint64_t>(static_cast<int64_t>(v)) & 0x1fffff; };
    Draws draws(seed, bits(at.x()) | bits(at.y()) << 21 | bits(at.z()) << 42);
    const Vec3 middle = size * (at + Vec3(draws.unit(), draws.unit(), draws.unit()));
    if (const float d = (middle - place).squaredNorm(); d < nearest) {
      nearest = d;
      best = middle;
    }
  }
  return best;
}

class Growth {
 public:
  Growth(const HairGround& ground, const HairRoot& root, const Rays& rays)
      : ground_(ground), hair_(ground.hair), root_(root), rays_(rays), draws_(root.draw, 1) {
    const Surface& surface = rays.surface();
    sample_ = nearestCorner(surface.triangles[root.triangle], root.weights);
    skin_ = skinAt(surface, ground, root.triangle, root.weights);
    length_ = lengthHere();
    turn_ = 40 * kDegree * hair_.stray * draws_.around();
    lift_ = std::clamp(hair_.lift + 30 * hair_.stray * draws_.around(), 2.f, 90.f) * kDegree;
    bend_ = hair_.bend * (1 + 0.5f * hair_.stray * draws_.around());
  }

  Fibre fibre() {
    Fibre out;
    out.root = sample_;
    out.shine = hair_.shine;
    out.absorption = fibreAbsorption(hair_, draws_);
    return out;
  }

  size_t steps() const {
    const float bends = length_ / (0.02f * rays_.surface().bounds.diagonal());
    return std::clamp(static_cast<size_t>(3 + bends), size_t{3}, kMostFibreSteps);
  }

  /// Places from the root to the tip.
  void grow(std::span<Vec3> places) {
    const size_t steps = places.size() - 1;
    const float step = length_ / static_cast<float>(steps);
    places[0] = root_.position - 0.5f * hair_.thickness * skin_.normal;
    Vec3 at = root_.position;
    for (size_t k = 1; k <= steps; ++k) {
      const float t = (static_cast<float>(k) - 0.5f) / static_cast<float>(steps);
      at += step * wayAt(t);
      if (root_.along.isZero()) stayAbove(at);
      places[k] = at;
    }
    gather(places);
  }

  float radiusAt(float t) const { return 0.5f * hair_.thickness * (1 - hair_.taper * t); }

 private:
  float lengthHere() {
    const Triangle& t = rays_.surface().triangles[root_.triangle];
    const auto& of = *ground_.lengths;
    const float w = 1 - root_.weights.x() - root_.weights.y();
    float out = w * of[t[0]] + root_.weights.x() * of[t[1]] + root_.weights.y() * of[t[2]];
    out *= 1 - hair_.uneven * draws_.unit();
    // those of an edge are shorter toward both its ends
    if (!root_.along.isZero()) out *= 0.55f + 0.45f * std::sin(std::numbers::pi_v<float> * root_.share);
    return std::max(out, 0.05f * hair_.thickness);
  }

  // Which way it grows, so far toward the tip.
  Vec3 wayAt(float t) const {
    const float angle = bend_ >= 0 ? lift_ * (1 - std::min(1.f, 1.7f * bend_ * t))
                                   : std::min(115 * kDegree, lift_ - bend_ * 80 * kDegree * t);
    const Vec3 combed = Eigen::AngleAxisf(turn_, skin_.normal) * skin_.combed;
    Vec3 way = std::cos(angle) * combed + std::sin(angle) * skin_.normal;
    // those of an edge spread apart toward its ends
    if (!root_.along.isZero()) way += 0.9f * (root_.share - 0.5f) * root_.along;
    return way.normalized();
  }

  // It lies on the skin rather than in it, and follows the direction where it came to.
  void stayAbove(Vec3& at) {
    const Surface& surface = rays_.surface();
    const auto near = rays_.nearestAlike(at, length_, {skin_.normal, 0.2f});
    if (!near) return;
    const Triangle& t = surface.triangles[near->triangle];
    if (surface.triangleParts[near->triangle] != surface.triangleParts[root_.triangle]) return;
    const Skin skin = skinAt(surface, ground_, near->triangle, {near->u, near->v});
    const float w = 1 - near->u - near->v;
    const Vec3 below =
        w * surface.positions[t[0]] + near->u * surface.positions[t[1]] + near->v * surface.positions[t[2]];
    const float high = (at - below).dot(skin.normal);
    if (high < hair_.thickness) at += (hair_.thickness - high) * skin.normal;
    if (skin.combed.dot(skin_.combed) > 0) skin_ = skin;
  }

  // Toward the tip a clump's fibres come together.
  void gather(std::span<Vec3> places) const {
    if (!(hair_.clump > 0)) return;
    const Vec3 aside = clumpAround(root_.position, hair_.clumpSize, hair_.seed) - root_.position;
    // (never farther aside than it is long)
    const Vec3 pull = aside * std::min(1.f, 0.5f * length_ / std::max(aside.norm(), 1e-6f));
    for (size_t k = 1; k < places.size(); ++k) {
      const float t = static_cast<float>(k) / static_cast<float>(places.size() - 1);
      const Vec3 by = hair_.clump * t * std::sqrt(t) * pull;
      places[k] += by - std::min(0.f, by.dot(skin_.normal)) * skin_.normal;
    }
  }

  const HairGround& ground_;
  const Hair& hair_;
  const HairRoot& root_;
  const Rays& rays_;
  Draws draws_;
  uint32_t sample_;
  Skin skin_;
  float length_, turn_, lift_, bend_;
};

}  // namespace

Fibre grownFibre(const HairGround& ground, const HairRoot& root, const Rays& rays,
                 std::array<FibrePoint, kMostFibrePoints>& points) {
  Growth growth(ground, root, rays);
  Fibre out = growth.fibre();
  const size_t steps = growth.steps();
  std::array<Vec3, kMostFibreSteps + 1> places;
  growth.grow(std::span(places).first(steps + 1));
  for (size_t k = 0; k <= steps; ++k)
    points[k + 1] << places[k], growth.radiusAt(static_cast<float>(k) / static_cast<float>(steps));
  points[0] = 2 * points[1] - points[2];
  points[steps + 2] = 2 * points[steps + 1] - points[steps];
  points[0].w() = points[1].w();
  points[steps + 2].w() = points[steps + 1].w();
  out.points = static_cast<uint32_t>(steps + 3);
  return out;
}

}  // namespace juvenor
