// Nose, mouth, lids and ears of the ferry keeper.
#include <span>

#include "demo/keeper.h"

namespace juvenor::demo::keeper {
namespace {

// Rods from point to point, their radii going along.
struct Knot {
  Vec3 at;
  float radius;
};
float strand(const Vec3& p, std::span<const Knot> knots, float softness) {
  float d = rod(p, knots[0].at, knots[1].at, knots[0].radius, knots[1].radius);
  for (size_t i = 2; i < knots.size(); ++i)
    d = join(d, rod(p, knots[i - 1].at, knots[i].at, knots[i - 1].radius, knots[i].radius), softness);
  return d;
}

// What lies farther off than a feature reaches need not look at it. The room is that of the widest block of a
// coarse grid.
bool beyond(const Vec3& p, const Vec3& middle, float reach) {
  constexpr float kRoom = 26;
  return (p - middle).squaredNorm() > (reach + kRoom) * (reach + kRoom);
}

}  // namespace

float withNose(float d, const Vec3& point, const Vec3& p) {
  if (beyond(p, {0, 42, 92}, 36)) return d;
  // broken once: the ridge leans a little to one side; this alone is not mirrored
  const float lean = 1.6f * std::exp(-(point.y() - 46) * (point.y() - 46) / 200);
  const Vec3 q(point.x() - lean, point.y(), point.z());
  const Vec3 half = folded(q);
  float nose = rod(q, {0, 70, 80}, {0, 53, 91}, 6, 6.2f);                  // root and bone
  nose = join(nose, rod(q, {0, 53, 91}, {0, 32, 102.5f}, 6.2f, 6.4f), 8);  // ridge
  nose = join(nose, rod(half, {5, 56, 82}, {9, 30, 90}, 4.5f, 6), 9);      // side walls
  nose = join(nose, sphere(half, {2.6f, 27, 103.2f}, 5.9f), 8);            // the tip's two domes
  nose = join(nose, rod(p, {0, 15.5f, 92}, {0, 20, 103}, 2.6f, 3.2f), 4);  // septum
  d = join(d, nose, 8);
  // wings, set off from tip and cheek by a crease
  float wings = rod(p, {12.6f, 22, 90}, {9, 21.5f, 99}, 5, 4.2f);
  wings = join(wings, ellipsoid(p, {13.6f, 22, 89}, {4.2f, 6.4f, 6.5f}), 4);
  d = join(d, wings, 4.2f);
  return carve(d, rod(p, {6.8f, 13, 97}, {6.2f, 22, 96}, 3, 2.2f), 2);
}

float redOfLips(const Vec3& p) {
  const float over = overMouthLine(p), t = std::min(1.f, p.x() * p.x() / (25.5f * 25.5f));
  const float upper = 6.2f * (1 - t) + 0.4f, lower = -9.2f * std::sqrt(1 - t) - 0.4f;
  return smoothstep(27, 24, p.x()) * smoothstep(80, 84, p.z() + 0.012f * p.x() * p.x()) *
         smoothstep(lower - 1.2f, lower + 0.6f, over) * smoothstep(upper + 0.8f, upper - 0.6f, over);
}

float overMouthLine(const Vec3& p) {
  // dips in the middle under the bow, droops toward the corners
  return p.y() + 0.6f + 0.0042f * p.x() * p.x() - 1.5f * std::exp(-p.x() * p.x() / 40);
}

float mouthLine(const Vec3& p) {
  return std::max(std::abs(overMouthLine(p)) - 0.35f,
                  ellipsoid({p.x(), 0, p.z()}, {0, 0, 82}, {25.5f, 10, 14}));
}

float withMouth(float d, const Vec3& p) {
  if (beyond(p, {0, 2, 84}, 38)) return d;
  // a groove under the septum between two soft ridges that end in the peaks of the bow
  d = join(d, rod(p, {3.4f, 15, 88.4f}, {5.2f, 7, 90.6f}, 0.8f, 1.1f), 6);
  d = carve(d, rod(p, {0, 13, 94.2f}, {0, 8, 95.8f}, 1.2f, 1.8f), 5);
  // lips: thin above with its bow, fuller below
  const Knot upper[] = {
      {{0, 1.9f, 92.2f}, 2.9f}, {{5.5f, 3.2f, 91.8f}, 3}, {{15, 1.2f, 87}, 2.7f}, {{25, -3, 79}, 1.1f}};
  const Knot lower[] = {
      {{0, -5.2f, 90.6f}, 4}, {{8, -5.3f, 89.8f}, 4}, {{17, -4.9f, 85}, 3.1f}, {{25, -3.6f, 78.6f}, 1.2f}};
  const float top = strand(p, upper, 3), bottom = strand(p, lower, 3);
  // the border of the red: a narrow roll along the upper edge
  const Knot roll[] = {{{0, 4.9f, 92.8f}, 0.7f},
                       {{5.3f, 6.7f, 92.4f}, 0.8f},
                       {{15, 3.9f, 87.6f}, 0.7f},
                       {{26, -2.2f, 79}, 0.5f}};
  d = join(d, top, 3);
  d = join(d, bottom, 3.2f);
  d = join(d, strand(p, roll, 1.5f), 2.6f);
  // corners: a small pad beside, a pit within
  d = join(d, sphere(p, {29.5f, -3.5f, 75.5f}, 4.5f), 6);
  d = carve(d, mouthLine(p), 2.4f);
  return carve(d, sphere(p, {25.6f, -3.2f, 81}, 1), 2.5f);
}

// Upper and lower edge of the opening meet at the corners, the inner one a little lower.
float fissure(const Vec3& p) {
  const Vec3 q = p - kEye;
  const float x = q.x(), y = q.y() - 0.07f * x;
  const float t = std::clamp((x + 13.6f) / 27.4f, 0.f, 1.f);
  // the upper edge peaks toward the nose, the lower one away from it; the inner corner is drawn out
  const float upper = 5.8f * std::pow(std::sin(3.14159f * std::pow(t, 0.92f)), 0.8f) - 0.4f;
  const float lower = -4.4f * std::pow(std::sin(3.14159f * std::pow(t, 1.12f)), 0.9f) - 0.4f;
  const float beyond = std::max(0.f, std::max(x - 13.8f, -13.6f - x));
  return std::max(y - upper, lower - y) * 0.8f + beyond;
}

float withEyelids(float d, const Vec3& p) {
  const Vec3 q = p - kEye;
  if (beyond(p, kEye, 32)) return d;
  const float away = q.norm(), open = fissure(p);
  const float front = smoothstep(-2, 4, q.z());
  // the flesh around the ball, closed, then opened between the lids
  const float ball = away - kEyeRadius;
  d = join(d, std::max(ball - 2.1f, -q.z() - 6), 5);
  // the upper lid folds over: a crease above its edge, a softer one below the eye
  const float x = std::clamp(q.x() / 15, -1.f, 1.f);
  const float crease = q.y() - 0.07f * q.x() - 9.3f + 4.6f * x * x, pouch = q.y() + 9.2f - 3.2f * x * x;
  d = carve(d,
            seam(ball - 3.4f, crease, 0.75f - 1.5f * x * x * x * x - 1.6f * smoothstep(-0.35f, -0.8f, x)) +
                3 * (1 - front),
            2.6f);
  d = join(d, rod(p, {20, 74.5f, 79}, {46, 69, 71}, 2.4f, 2.2f), 6);  // the fold that hangs over it
  d = carve(d, seam(ball - 3.2f, pouch, 0.3f) + 3 * (1 - front), 3);
  d = join(d, rod(p, {21, 47, 76}, {42, 49, 70}, 1.8f, 1), 8);  // bag
  if (away > kEyeRadius + 9) return d;
  // lids end in an edge as thick as they are, rounded; water stands along the lower one
  d = carve(d, std::max(open, -q.z()), 1.1f);
  d = join(d, std::max(seam(ball - 0.8f, open - 1.0f, 1.15f), -q.z()), 1.2f);
  d = carve(d, ball - 0.15f, 0.5f);
  d = join(d, std::max(seam(ball - 0.1f, open + 0.1f, 0.55f), q.y()), 0.5f);
  return join(d, sphere(p, kEye + Vec3(-12.6f, -1.4f, 5.6f), 2.1f), 1.4f);  // the pink of the inner corner
}

// The ear in a frame of its own: u back, v up, w out from the head.
float withEar(float head, const Vec3& p) {
  const Vec3 origin(67, 45, -14);
  if (beyond(p, origin, 44)) return head;
  const float tilt = 0.24f, stand = 0.52f;
  const Vec3 up(0, std::cos(tilt), -std::sin(tilt)), straightBack(0, -std::sin(tilt), -std::cos(tilt));
  const Vec3 back = std::cos(stand) * straightBack + std::sin(stand) * Vec3::UnitX();
  const Vec3 out = std::cos(stand) * Vec3::UnitX() - std::sin(stand) * straightBack;
  const Vec3 q((p - origin).dot(back), (p - origin).dot(up), (p - origin).dot(out));
  const Knot helix[] = {{{-1, 0, 0.5f}, 1.8f},   {{-8, 4, 3}, 2.2f},        {{-12.5f, 12, 4.5f}, 2.5f},
                        {{-10, 24, 5}, 2.7f},    {{-2, 31.5f, 5.5f}, 2.9f}, {{8, 32, 6.5f}, 3.1f},
                        {{16, 25, 7.5f}, 3.1f},  {{19, 13, 8}, 2.9f},       {{18, 0, 8}, 2.6f},
                        {{14.5f, -12, 7}, 2.4f}, {{9, -22, 5.5f}, 2.4f}};
  const Knot antihelix[] = {
      {{5, -15, 4}, 2.2f}, {{9.5f, -8, 5.5f}, 2.6f}, {{10.5f, 3, 6}, 2.9f}, {{8, 11, 5.5f}, 2.9f}};
  const Knot rising[] = {{{8, 11, 5.5f}, 2.9f}, {{6, 18, 4.5f}, 2.7f}, {{1, 25, 3}, 2}};
  const Knot forward[] = {{{8, 11, 5.5f}, 2.9f}, {{1, 13.5f, 3.6f}, 2.2f}, {{-7, 12, 2}, 1.6f}};
  // the plate all of it lies on, bent up toward its rim
  const float egg = ellipsoid({q.x() - 4.5f, q.y() - 3 - 0.1f * q.x(), 0}, {0, 0, 0}, {14.5f, 29, 29});
  const float bent = q.z() - 0.6f - 0.018f * ((q.x() - 2) * (q.x() - 2) + 0.25f * q.y() * q.y());
  float ear = std::max(egg, std::abs(bent) - 1.6f);
  ear = join(ear, ellipsoid(q, {-3, 0, -7}, {11, 20, 9}), 7);            // what holds it to the head
  ear = join(ear, ellipsoid(q, {4, -26.5f, 3.2f}, {8, 9.5f, 3.6f}), 5);  // lobe
  ear = join(ear, std::min(strand(q, rising, 2), strand(q, forward, 2)), 2.5f);
  ear = join(ear, strand(q, antihelix, 2.5f), 2.5f);
  ear = carve(ear, ellipsoid(q, {-1, -4, 7}, {8.8f, 12, 9.5f}), 3);  // the bowl
  ear = join(ear, strand(q, helix, 2), 1.8f);
  ear = join(ear, ellipsoid(q, {4.5f, -16, 5}, {4.5f, 3.2f, 3.6f}), 3);   // antitragus
  ear = join(ear, ellipsoid(q, {-11.5f, -6, 4.5f}, {3, 6.2f, 4.6f}), 4);  // tragus
  ear = carve(ear, ellipsoid(q, {-6, -5, -1}, {3.5f, 4, 7}), 2.5f);       // the canal
  return join(head, ear, 4.5f);
}

}  // namespace juvenor::demo::keeper
