// The ferry keeper: a weathered human head and neck. Deep-set eyes under a heavy brow, a broken nose, thin
// lips, big ears, folds that wind and sun have cut.
#include "core/surface/noise.h"
#include "demo/demo.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

const Vec3 kEye(31.5f, 61, 66.5f);
constexpr float kEyeRadius = 13.2f;

float mouthLine(const Vec3& p) {
  Vec3 q = p;
  q.y() += 0.0032f * p.x() * p.x() - 1.1f * std::exp(-p.x() * p.x() / 60);
  return ellipsoid(q, {0, -1, 88}, {25, 0.65f, 20});
}

// A thin upper lip with its bow, and a fuller lower one.
float lipsOf(const Vec3& p) {
  const float upper = join(rod(p, {0, 2.3f, 95.5f}, {9, 3.0f, 94}, 2.7f, 3.0f),
                           rod(p, {9, 3.0f, 94}, {25, -2.4f, 83}, 3.0f, 0.9f), 2);
  const float lower = join(rod(p, {0, -5.0f, 95}, {11, -5.0f, 92.5f}, 4.2f, 3.7f),
                           rod(p, {11, -5.0f, 92.5f}, {25, -3.2f, 83}, 3.7f, 0.9f), 2);
  return std::min(upper, lower);
}

float headForm(const Vec3& p) {
  float d = ellipsoid(p, {0, 80, -8}, {71, 65, 88});              // skull
  d = join(d, ellipsoid(p, {0, 38, 34}, {56, 62, 48}), 24);       // face
  d = join(d, ellipsoid(p, {0, -26, 56}, {31, 24, 33}), 22);      // chin block
  d = join(d, rod(p, {60, 22, 4}, {22, -32, 62}, 13, 12), 20);    // jaw
  d = join(d, ellipsoid(p, {0, 2, 74}, {31, 22, 21}), 16);        // the mouth's mound
  d = join(d, rod(p, {27, 28, 70}, {58, 40, 32}, 10, 6), 22);     // cheekbones
  d = join(d, rod(p, {6, 77, 82}, {44, 79, 64}, 8, 7), 13);       // brow
  d = carve(d, ellipsoid(p, {31, 62, 95}, {19, 12, 19}), 15);     // eye hollows
  d = carve(d, ellipsoid(p, {54, 8, 76}, {16, 26, 18}), 26);      // sunken cheeks
  return carve(d, ellipsoid(p, {76, 78, 46}, {13, 26, 30}), 24);  // temples
}

float noseOf(const Vec3& point, const Vec3& p) {
  // broken once: the ridge leans a little to one side; this alone is not mirrored
  const float lean = 1.7f * std::exp(-(point.y() - 46) * (point.y() - 46) / 160);
  const Vec3 q(point.x() - lean, point.y(), point.z());
  float d = rod(q, {0, 68, 85}, {0, 48, 97}, 7, 8);
  d = join(d, rod(q, {0, 48, 97}, {0, 27, 107}, 7.5f, 10), 7);
  d = join(d, ellipsoid(p, {12, 24, 95}, {8.5f, 8, 11}), 7);  // wings
  d = join(d, ellipsoid(p, {0, 21, 97}, {6, 5, 11}), 5);      // columella
  return carve(d, rod(p, {7.2f, 16, 99}, {6, 26, 95}, 3.4f, 3), 3);
}

float lidsOf(const Vec3& p) {
  const Vec3 q = p - kEye;
  const float shell = std::abs(q.norm() - kEyeRadius - 1.3f) - 1.3f;
  const float upper = q.dot(Vec3(-0.10f, -0.90f, 0.42f).normalized()) + 0.2f - 0.006f * q.x() * q.x();
  const float lower = q.dot(Vec3(0.06f, 0.86f, 0.50f).normalized()) - 2.6f - 0.008f * q.x() * q.x();
  const float ends = std::abs(q.x()) - 15.2f;
  float d = join(std::max(shell, upper), std::max(shell, lower), 1.2f);
  d = join(d, seam(q.norm() - kEyeRadius - 1.6f, upper, 1.35f), 1.5f);
  d = join(d, seam(q.norm() - kEyeRadius - 1.4f, lower, 1.15f), 1.5f);
  return std::max(d, ends);
}

float earOf(const Vec3& p) {
  Vec3 q = p - Vec3(75, 48, -8);
  const float a = 0.42f;
  q = Vec3(std::cos(a) * q.x() - std::sin(a) * q.z() * -1, q.y(), -std::sin(a) * q.x() + std::cos(a) * q.z());
  const Vec3 tilt(q.x(), q.y() + 0.18f * q.z(), q.z());
  const float outline = ellipsoid(tilt, {0, 0, 0}, {15, 33, 19});
  const float sheet = std::abs(q.x() - 0.012f * (q.z() * q.z() + 0.25f * q.y() * q.y())) - 1.5f;
  float d = std::max(outline, sheet);
  d = join(d, seam(outline + 2.5f, sheet - 0.8f, 2.9f), 3);  // helix
  d = join(d, seam(ellipsoid(tilt, {0, 1, 0}, {12, 21, 11}), sheet - 1, 2.0f), 4);
  d = join(d, ellipsoid(tilt, {1, -29, 4}, {4, 8, 7}), 5);  // lobe
  d = join(d, sphere(p, {70, 45, 9}, 7.5f), 6);             // tragus
  return carve(d, sphere(q, {7.5f, -3, 4}, 6.5f), 4);
}

float headOf(const Vec3& point) {
  const Vec3 p = folded(point);
  float d = headForm(p);
  d = join(d, noseOf(point, p), 9);
  d = join(d, lipsOf(p), 3.2f);
  d = carve(d, mouthLine(p), 1.8f);
  d = carve(d, sphere(p, kEye, kEyeRadius + 0.4f), 1.2f);
  d = join(d, lidsOf(p), 2.2f);
  // bags under the eyes, folds from nose to mouth, a furrow between chin and lip
  d = join(d, rod(p, {22, 46, 77}, {42, 47, 69}, 2.6f, 1.6f), 13);
  d = carve(d, rod(p, {17, 27, 98}, {35, -4, 84}, 1.5f, 1.1f), 7);
  d = carve(d, rod(p, {0, -15, 94.5f}, {24, -17, 84}, 1.6f, -3), 11);
  d = join(d, earOf(p), 4);
  // neck
  float neck = rod(p, {0, 10, -18}, {0, -110, -22}, 47, 53);
  neck = join(neck, rod(p, {60, 14, -20}, {12, -98, 32}, 9, 8), 14);
  neck = join(neck, ellipsoid(p, {0, -56, 30}, {9, 11, 11}), 12);
  neck = join(neck, ellipsoid(p, {48, -124, -16}, {76, 34, 46}), 40);
  d = join(d, neck, 16);
  return std::max(d, -132.f - p.y());
}

float weather(const Vec3& point) {
  const Vec3 p = folded(point);
  const Vec3 warp(fractal(point / 22, 2, 107), fractal(point / 22, 2, 117), fractal(point / 22, 2, 127));
  // forehead lines
  const float brow = smoothstep(84, 92, p.y()) * smoothstep(130, 116, p.y()) * smoothstep(45, 65, p.z());
  const float lines = std::sin(0.62f * p.y() + 1.8f * warp.x());
  float d = -1.1f * brow * std::pow(std::max(0.f, lines), 6.f);
  // crow's feet fan out from the outer corner of the eye
  const Vec2 corner(p.x() - 45, p.y() - 61);
  const float fanOut =
      smoothstep(26, 10, corner.norm()) * smoothstep(0, 6, corner.x()) * smoothstep(20, 40, p.z());
  d -= 0.8f * fanOut *
       std::pow(std::max(0.f, std::cos(11 * std::atan2(corner.y(), corner.x() + 3) + warp.y())), 5.f);
  // the neck's rings, cracked like old leather
  const float neck = smoothstep(-20, -44, p.y()) * smoothstep(-104, -80, p.y());
  d -= 0.9f * neck * std::pow(std::max(0.f, std::sin(0.36f * p.y() + 3.f * warp.z())), 5.f);
  const Cells leather = worley(p / 7.5f + 0.4f * warp, 113);
  d -= (0.10f + 0.28f * neck) * smoothstep(0.12f, 0.02f, leather.second - leather.first);
  const float creases = 1 - std::abs(perlin(p / 6.f + 0.7f * warp, 105));
  d -= 0.28f * std::pow(creases, 8.f);
  const Cells pore = worley(p / 1.35f, 111);
  const float face = smoothstep(-30, 0, p.z());
  d -= 0.12f * face * smoothstep(0.32f, 0.06f, pore.first);
  const float lip = smoothstep(4.5f, 1.5f, std::abs(mouthLine(p) - 2.f)) * smoothstep(76, 84, p.z());
  d -= 0.22f * lip * std::pow(std::max(0.f, std::sin(1.7f * p.x() + warp.x())), 4.f);
  return d + 0.35f * fractal(p / 13, 3, 102) * (1 - lip);
}

Distance eyeOf(float side) {
  return [side](const Vec3& p) {
    const Vec3 q(p.x() * side, p.y(), p.z());
    return join(sphere(q, kEye, kEyeRadius), sphere(q, kEye + Vec3(0.3f, 0, 5.1f), 8.2f), 1.5f);
  };
}

}  // namespace

std::vector<Piece> keeperPieces() {
  return {{"Head and neck", headOf, weather, boxOf({-130, -138, -104}, {130, 160, 126})},
          {"Left eye", eyeOf(1), {}, boxOf({16, 46, 54}, {47, 78, 90})},
          {"Right eye", eyeOf(-1), {}, boxOf({-47, 46, 54}, {-16, 78, 90})}};
}

}  // namespace juvenor::demo
