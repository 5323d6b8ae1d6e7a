// The keeper's head thirty years on, for work to be carried over to: nose and ears have gone on growing,
// temples are hollow, cheeks and jowls hang, and every fold is deeper. All of it is one way of places,
// smooth, that leads from the younger head to the older.
#include <array>

#include "demo/keeper.h"

namespace juvenor::demo {
namespace {

// What lies around a place moves, most in its middle, and not at all from `reach` on.
struct Pull {
  Vec3 middle;
  float reach;
  Vec3 by = Vec3::Zero();
  float growth = 0;  // away from the middle, of the way to it
};

const std::array<Pull, 8> kYears{{{{0, 27, 108}, 34, {0, -5.5f, 2}},
                                  {{84, 46, -20}, 44, {2, -2, -1}, 0.16f},
                                  {{68, 84, 34}, 40, {-4, 0, -1}},
                                  {{36, 92, 84}, 26, {0, -3, 1.5f}},
                                  {{50, 22, 66}, 44, {1, -6, -2}},
                                  {{50, -24, 44}, 42, {4, -7, 3}},
                                  {{29, -4, 82}, 22, {1, -2.5f, 0}},
                                  {{0, -48, 62}, 40, {0, -4, 6}}}};

Vec3 yearsAt(const Vec3& point) {
  const Vec3 p(std::abs(point.x()), point.y(), point.z());
  Vec3 out = Vec3::Zero();
  for (const Pull& pull : kYears) {
    const Vec3 away = p - pull.middle;
    const float near = 1 - away.squaredNorm() / (pull.reach * pull.reach);
    if (near > 0) out += near * near * (pull.by + pull.growth * away);
  }
  if (point.x() < 0) out.x() = -out.x();
  return out;
}

}  // namespace

Vec3 olderPlace(const Vec3& place) {
  return place + yearsAt(place);
}

Vec3 youngerPlace(const Vec3& place) {
  Vec3 out = place;
  for (int round = 0; round < 6; ++round) out = place - yearsAt(out);
  return out;
}

std::vector<Piece> olderKeeperPieces(float spacing) {
  constexpr float kDeeper = 1.9f;
  std::vector<Piece> out = keeperPieces(spacing);
  for (Piece& piece : out)
    piece.distance = [young = piece.distance](const Vec3& p) { return young(youngerPlace(p)); };
  out[0].relief = [=](const Vec3& p) { return keeper::weather(youngerPlace(p), spacing, kDeeper); };
  return out;
}

}  // namespace juvenor::demo
