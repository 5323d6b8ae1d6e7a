// The river ferryman of mudskipper folk: a bust with bulging eyes high on a broad head, a wide mouth,
// feathered gills at the neck, a sail of a fin along the crown and fans at the shoulders.
#include <numbers>

#include "core/noise/noise.h"
#include "demo/demo.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

const Vec3 kEye(46, 114, 42);
constexpr float kEyeRadius = 26.f;

// The mouth as a wide flat lens that droops at its corners.
float mouth(const Vec3& p) {
  Vec3 q = p;
  q.y() += 0.0026f * p.x() * p.x();
  return ellipsoid(q, {0, 34, 78}, {66, 6.5f, 60});
}

float skull(const Vec3& p) {
  float d = ellipsoid(p, {0, 62, 2}, {80, 60, 84});
  d = join(d, ellipsoid(p, {0, 48, 58}, {64, 30, 44}), 26);   // muzzle
  d = join(d, ellipsoid(p, {56, 38, 34}, {34, 30, 40}), 24);  // cheeks
  d = join(d, ellipsoid(p, {0, 16, 44}, {58, 19, 50}), 14);   // lower jaw
  d = join(d, ellipsoid(p, {0, 2, 22}, {50, 26, 44}), 22);    // throat sack
  d = join(d, ellipsoid(p, {0, 96, -30}, {44, 30, 62}), 30);  // crown
  return join(d, sphere(p, {41, 104, 33}, 29), 16);           // eye mounts
}

float lids(const Vec3& p) {
  const Vec3 q = p - kEye;
  const float shell = std::abs(q.norm() - (kEyeRadius + 2.2f)) - 2.2f;
  // the opening looks forward and outward; a heavy upper lid, a thin lower one
  const Vec3 look = Vec3(0.34f, 0.1f, 0.94f).normalized();
  const float upper = q.dot(Vec3(0.05f, -0.86f, 0.52f).normalized()) + 3.5f;
  const float lower = q.dot(Vec3(0.1f, 0.80f, 0.60f).normalized()) - 1.5f;
  const float front = q.dot(look);
  const float top = std::max(shell, upper), bottom = std::max(shell, lower);
  const float rims = std::min(seam(q.norm() - kEyeRadius - 2.6f, upper, 2.4f),
                              seam(q.norm() - kEyeRadius - 2.2f, lower, 1.8f));
  return front > -14 ? join(join(top, bottom, 2), rims, 2.5f) : shell;
}

float neckAndShoulders(const Vec3& p) {
  float d = rod(p, {0, 40, -22}, {0, -90, -26}, 56, 62);
  d = join(d, ellipsoid(p, {64, -128, -22}, {66, 58, 48}), 40);
  d = join(d, ellipsoid(p, {0, -150, 2}, {84, 92, 54}), 34);
  d = join(d, rod(p, {6, -62, 40}, {86, -86, 20}, 9, 7), 18);      // collar bones
  return join(d, rod(p, {48, 10, -2}, {10, -66, 38}, 11, 8), 16);  // cords of the neck
}

// Skin that hangs: three folds around the throat, one from each corner of the mouth.
float withHangingFolds(float d, const Vec3& p) {
  const float front = smoothstep(-30, 20, p.z());
  const float bare = d;
  for (int i = 0; i < 3; ++i) {
    const auto f = static_cast<float>(i);
    const float sag = p.y() + 8 + 19 * f - 0.0045f * p.x() * p.x() + 3 * std::sin(0.05f * p.x() + 1.7f * f);
    d = join(d, seam(bare - 0.6f, sag, (4.2f - 0.6f * f) * front - 0.5f), 9);
    d = carve(d, seam(bare - 1.5f, sag + 7.5f, 1.6f * front - 0.6f), 5);  // the shadow it hangs over
  }
  d = join(d, rod(p, {60, 26, 62}, {64, 4, 50}, 4, 6), 9);
  return join(d, rod(p, {64, 4, 50}, {54, -12, 46}, 6, 2), 9);
}

float gillSlit(const Vec3& p, int i) {
  const float y = -8.f - 19.f * static_cast<float>(i);
  return ellipsoid(p, {60.f - 1.5f * static_cast<float>(i), y, -6.f - 3.f * static_cast<float>(i)},
                   {16, 4.2f, 26});
}

float bodyOf(const Vec3& point) {
  const Vec3 p = folded(point);
  float d = join(skull(p), neckAndShoulders(p), 26);
  d = withHangingFolds(d, p);
  // the mouth, then lips along the line where mouth and head meet
  const float m = mouth(p), before = d;
  d = carve(d, m, 5);
  const float front = smoothstep(20, 50, p.z());
  d = join(d, seam(before + 0.5f, m - 3.2f, 1.f + 4.6f * front), 5);
  d = join(d, seam(before, m - 13.f, 0.4f + 1.6f * front), 9);  // folds that follow the lips
  d = join(d, seam(before, m - 23.f, 0.2f + 1.3f * front), 10);
  // eyes sit in sockets under lids
  d = carve(d, sphere(p, kEye, kEyeRadius + 0.8f), 2);
  d = join(d, lids(p), 5);
  d = join(d, seam(before, (p - kEye).norm() - kEyeRadius - 9.f, 1.9f), 7);
  d = join(d, seam(before, (p - kEye).norm() - kEyeRadius - 16.f, 1.4f), 8);
  // brow fold and nostrils
  d = join(d, rod(p, {18, 128, 52}, {76, 116, 46}, 4.5f, 3), 11);
  const float nostril = rod(p, {17, 76, 101}, {13, 70, 84}, 3.4f, 2.6f);
  d = join(d, sphere(p, {17, 75, 92}, 8.5f), 8);
  d = carve(d, nostril, 3);
  for (int i = 0; i < 3; ++i) d = carve(d, gillSlit(p, i), 5);
  return carve(d, p.y() + 134.f, 4);
}

// Pores in a row from behind the eye over neck and shoulder, as seen from the side: the organ fish feel the
// water with.
float lateralLine(const Vec3& p) {
  const Vec2 knots[] = {{6, 92}, {-30, 62}, {-44, 16}, {-46, -50}, {-54, -118}};
  const Vec2 q(p.z(), p.y());
  float nearest = 1e9f, along = 0, walked = 0;
  for (size_t i = 0; i + 1 < std::size(knots); ++i) {
    const Vec2 way = knots[i + 1] - knots[i];
    const float length = way.norm(), t = std::clamp((q - knots[i]).dot(way) / (length * length), 0.f, 1.f);
    const float away = (q - knots[i] - t * way).norm();
    if (away < nearest) {
      nearest = away;
      along = walked + t * length;
    }
    walked += length;
  }
  const float pore = std::hypot(nearest, std::abs(std::fmod(along, 9.f) - 4.5f));
  const float line = 0.7f * smoothstep(5, 2, nearest) + 0.5f * smoothstep(3.6f, 2.6f, pore);
  return smoothstep(25, 40, p.x()) * (line - 1.9f * smoothstep(2.2f, 1, pore));
}

float skinRelief(const Vec3& point, float spacing) {
  const auto shows = [&](float size) { return smoothstep(1.2f, 2.4f, size / spacing); };
  const Vec3 p = folded(point);
  const Vec3 warp(fractal(p / 31, 2, 7), fractal(p / 31, 2, 17), fractal(p / 31, 2, 27));
  // wrinkles run around neck and throat, and stand around mouth and eyes
  const float throat = smoothstep(25, -5, p.y()) * smoothstep(-105, -70, p.y());
  const float rings = std::sin(p.y() * 0.42f + 4.5f * warp.x() + 0.02f * p.z());
  float d = 0.85f * throat * (1 - std::pow(std::abs(rings), 0.6f)) * -1.4f;
  const float creases = 1 - std::abs(perlin(p.cwiseProduct(Vec3(0.085f, 0.19f, 0.085f)) + 0.6f * warp, 3));
  // deep where skin folds most, hardly there elsewhere
  d -= (0.25f + 0.6f * smoothstep(-0.1f, 0.5f, fractal(p / 45, 2, 6)) + 0.3f * throat) *
       std::pow(creases, 9.f);
  const float fine = 1 - std::abs(perlin(p / 4.3f + 0.8f * warp, 5));
  d -= 0.2f * shows(2.2f) * std::pow(fine, 7.f);
  // warts on the crown and shoulders, scattered by size
  const float warty = smoothstep(60, 105, p.y()) + 0.8f * smoothstep(-70, -100, p.y());
  const Cells big = worley(p / 9.5f, 11), small = worley(p / 4.1f, 12);
  d += warty * 1.15f * smoothstep(0.34f, 0.05f, big.first);
  d += (0.25f + 0.6f * warty) * 0.55f * smoothstep(0.36f, 0.08f, small.first);
  // pores and the pebble of the skin
  const Cells pore = worley(p / 1.55f, 13);
  d -= 0.16f * shows(1.55f) * smoothstep(0.34f, 0.05f, pore.first);
  d += 0.10f * shows(1.55f) * (pore.second - pore.first);
  d += lateralLine(p);
  const float lip = smoothstep(6, 2, std::abs(mouth(p) - 2.f));
  return (d + 0.5f * fractal(p / 17, 3, 2)) * (1 - 0.65f * lip);
}

// A leaf of the gill: a curled plate with a feathered edge.
float gillLeaves(const Vec3& point) {
  const Vec3 p = folded(point);
  float d = 1e9f;
  for (int i = 0; i < 3; ++i) {
    const auto f = static_cast<float>(i);
    Vec3 q = p - Vec3(66 - 1.5f * f, -8 - 19 * f, -16 - 3 * f);
    const float a = 0.45f + 0.12f * f;
    q = Vec3(std::cos(a) * q.x() + std::sin(a) * q.z(), q.y(), -std::sin(a) * q.x() + std::cos(a) * q.z());
    q.y() += 0.012f * q.x() * q.x() - 1.6f * std::sin(0.55f * q.z()) * smoothstep(0, 22, q.x());
    // a comb: filaments side by side, each ending for itself
    const float tooth = std::cos(std::atan2(q.z(), q.x() + 24) * 46);
    const float outer = smoothstep(10, 24, std::hypot(q.x(), q.z()));
    const float comb = 2.6f * outer * tooth;
    const float leaf = ellipsoid(q, Vec3::Zero(), {27 + comb, 3 + 0.9f * tooth * outer, 24 + comb});
    const float stem = rod(q, {-20, 0, 0}, {2, 0, 0}, 7, 4);
    d = std::min(d, join(leaf, stem, 5));
  }
  return d;
}

// Spines with a web between them, in the plane q.x–q.y, thin along q.z.
float fan(const Vec3& q, float reach, float from, float to, int spines) {
  const float r = std::hypot(q.x(), q.y()), angle = std::atan2(q.y(), q.x());
  const float t = std::clamp((angle - from) / (to - from), 0.f, 1.f);
  const float turn = from + t * (to - from);
  const float side = r * std::sin(angle - turn);
  // each ray forks on its way out
  const float turns = 2 * std::numbers::pi_v<float> * t * static_cast<float>(spines);
  const float fork = smoothstep(0.45f * reach, 0.72f * reach, r);
  const float wave = 0.5f + 0.5f * ((1 - fork) * std::cos(turns) - fork * std::cos(2 * turns));
  const float edge = reach * (0.86f + 0.14f * wave) *
                     (0.72f + 0.28f * std::sin(std::numbers::pi_v<float> * (0.15f + 0.8f * t)));
  const float thick = 1.5f + 2.2f * wave * wave * smoothstep(edge * 1.05f, edge * 0.3f, r);
  const float ripple = 2.2f * std::sin(5 * turn + 0.06f * r) * smoothstep(0.2f * reach, reach, r);
  // outside the fan's angle the distance to its last spine counts
  const float beyond = std::max({r - edge, std::abs(side) - 0.6f, std::abs(q.z() - ripple) - thick});
  return 0.6f * beyond;
}

float finsOf(const Vec3& point) {
  const Vec3 p = folded(point);
  // the sail: spines rise from the back of the crown
  const Vec3 s(-(point.z() + 6), point.y() - 78, point.x());
  float d = fan(s, 128, 0.25f, 1.72f, 9);
  // fans at the shoulders, swept back
  Vec3 q = p - Vec3(112, -104, -26);
  const float c = 0.80f, n = 0.60f;
  q = Vec3(c * q.x() - n * q.z(), q.y(), n * q.x() + c * q.z());
  return std::min(d, fan(q, 72, -0.35f, 1.35f, 8));
}

float teethOf(const Vec3& point) {
  const Vec3 p = folded(point);
  float d = 1e9f;
  for (int i = 0; i < 9; ++i) {
    const float a = (static_cast<float>(i) + 0.5f) * 0.155f;
    const float x = 58 * std::sin(a), z = 42 + 50 * std::cos(a), y = 33.5f - 0.0026f * x * x;
    const float length = 6.5f - 0.28f * static_cast<float>(i) + (i % 3 == 1 ? 1.6f : 0.f);
    d = std::min(d, rod(p, {x, y + 6, z - 1}, {x * 0.97f, y + 6 - length, z - 2.5f}, 2.9f, 0.7f));
    d = std::min(d, rod(p, {x * 0.95f, y - 7, z - 5}, {x * 0.94f, y - 7 + 0.7f * length, z - 5}, 2.5f, 0.7f));
  }
  return d;
}

float tongueOf(const Vec3& point) {
  const Vec3 p = folded(point);
  float d = ellipsoid(p, {0, 28.5f, 66}, {34, 5.5f, 30});
  return carve(d, rod(p, {0, 36, 40}, {0, 34, 100}, 2.6f, 2.2f), 4);
}

Distance eyeOf(float side) {
  return [side](const Vec3& p) {
    const Vec3 q(p.x() * side, p.y(), p.z());
    const Vec3 look = Vec3(0.30f, 0.04f, 0.95f).normalized();
    const float ball = sphere(q, kEye, kEyeRadius);
    const float cornea = sphere(q, kEye + 8.2f * look, kEyeRadius - 6.6f);
    return join(ball, cornea, 3);
  };
}

Distance wet(float strength, float size, uint32_t seed) {
  return [=](const Vec3& p) { return strength * fractal(folded(p) / size, 3, seed); };
}

}  // namespace

std::vector<Piece> ferrymanPieces(float spacing) {
  const Distance leafRelief = [](const Vec3& p) {
    return 0.5f * std::sin(1.9f * p.z() + 2 * perlin(p / 6, 31)) * 0.6f + 0.2f * fractal(p / 3, 2, 32);
  };
  return {{"Head and body", bodyOf, [=](const Vec3& p) { return skinRelief(p, spacing); },
           boxOf({-156, -144, -110}, {156, 150, 124})},
          {"Left eye", eyeOf(1), {}, boxOf({14, 84, 12}, {74, 142, 72})},
          {"Right eye", eyeOf(-1), {}, boxOf({-74, 84, 12}, {-14, 142, 72})},
          {"Gills", gillLeaves, leafRelief, boxOf({-112, -92, -70}, {112, 30, 34})},
          {"Fins", finsOf, wet(0.25f, 5, 41), boxOf({-200, -150, -170}, {200, 196, 60})},
          {"Tongue", tongueOf, wet(0.45f, 3.4f, 51), boxOf({-40, 16, 30}, {40, 42, 102})},
          {"Teeth", teethOf, wet(0.12f, 2.5f, 61), boxOf({-66, 8, 26}, {66, 50, 104})}};
}

}  // namespace juvenor::demo
