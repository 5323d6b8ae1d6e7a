#include "core/layers/sources/eye_vessels.h"

#include <cmath>
#include <numbers>

#include "core/seeded.h"
#include "core/surface/falloff.h"

namespace juvenor {
namespace {

constexpr float kHalfTurn = std::numbers::pi_v<float>;
constexpr float kStep = 0.03f;  // radians on the ball
constexpr int kMostVessels = 44, kMostForks = 3;

// One vessel on its way: where it is by its angles from and around the look.
struct Tip {
  float away, around;
  float drift = 0;  // sideways, by a step
  float width, end, strength;
  int forks = 0;
};

Vec3 onBall(const EyeBall& ball, const Vec3& right, const Vec3& up, float away, float around) {
  const Vec3 flat = std::cos(around) * right + std::sin(around) * up;
  return ball.center + ball.radius * (std::cos(away) * ball.look + std::sin(away) * flat);
}

// Most come in from both corners.
Tip freshTip(Draws& draws, float width, float irisAway) {
  const float side = draws.unit() < 0.5f ? 0.f : kHalfTurn;
  const bool corner = draws.unit() < 0.7f;
  Tip out{};
  out.away = kHalfTurn * (0.5f + 0.12f * draws.unit());
  out.around = corner ? side + 0.75f * draws.around() * draws.unit() : 2 * kHalfTurn * draws.unit();
  out.width = width * (0.45f + 0.55f * draws.unit());
  out.end = irisAway + 0.05f + 0.55f * draws.unit() * draws.unit();
  out.strength = 0.35f + 0.6f * draws.unit();
  return out;
}

}  // namespace

std::vector<VesselPiece> eyeVessels(const Eyes& eyes, const EyeBall& ball, const Vec3& right,
                                    const Vec3& up) {
  std::vector<VesselPiece> out;
  Draws draws(eyes.seed * 31u + ball.seed, 77);
  const float irisAway = std::asin(std::min(0.97f, eyes.iris / ball.radius));
  const int count = static_cast<int>(std::lround(eyes.vessels * kMostVessels));
  std::vector<Tip> tips;
  for (int i = 0; i < count; ++i) tips.push_back(freshTip(draws, eyes.vesselWidth, irisAway));
  while (!tips.empty()) {
    Tip tip = tips.back();
    tips.pop_back();
    const float begin = tip.away;
    while (tip.away > tip.end) {
      const Vec3 from = onBall(ball, right, up, tip.away, tip.around);
      tip.drift = 0.82f * tip.drift + 0.75f * draws.around();
      tip.away -= kStep * (0.55f + 0.45f * draws.unit());
      tip.around += kStep * tip.drift / std::max(0.3f, std::sin(tip.away));
      const float left = std::clamp((tip.away - tip.end) / std::max(begin - tip.end, 1e-3f), 0.f, 1.f);
      out.push_back({from, onBall(ball, right, up, tip.away, tip.around),
                     0.5f * tip.width * (0.35f + 0.65f * left), tip.strength * (0.45f + 0.55f * left)});
      if (tip.forks < kMostForks && left > 0.15f && draws.unit() < 0.05f) {
        Tip fork = tip;
        fork.drift = draws.unit() < 0.5f ? 2.2f : -2.2f;
        fork.width *= 0.7f;
        fork.end = tip.end + (tip.away - tip.end) * 0.7f * draws.unit();
        fork.forks = ++tip.forks;
        tips.push_back(fork);
      }
    }
  }
  return out;
}

float vesselCover(const VesselPiece& piece, const Vec3& place, float apart) {
  const Vec3 along = piece.to - piece.from;
  const float t =
      std::clamp((place - piece.from).dot(along) / std::max(along.squaredNorm(), 1e-30f), 0.f, 1.f);
  const float away = (place - piece.from - t * along).norm();
  // what is finer than points is as wide as they can show, and paler
  const float wide = std::max(piece.radius, 0.6f * apart);
  return piece.strength * std::min(1.f, piece.radius / wide) * falloff(away / (1.6f * wide), 0.2f);
}

}  // namespace juvenor
