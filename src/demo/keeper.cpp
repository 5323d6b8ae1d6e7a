// The ferry keeper: a weathered human head and neck. Deep-set eyes under a heavy brow, a broken nose, thin
// lips, big ears, folds that wind and sun have cut.
#include "demo/keeper.h"

namespace juvenor::demo {
namespace keeper {
namespace {

float skull(const Vec3& p) {
  float d = ellipsoid(p, {0, 84, -16}, {73, 74, 92});              // cranium
  d = join(d, ellipsoid(p, {0, 96, 30}, {56, 46, 51}), 22);        // forehead
  d = join(d, ellipsoid(p, {0, 40, 36}, {53, 56, 46}), 20);        // face
  d = join(d, ellipsoid(p, {0, -2, 64}, {30, 32, 25}), 20);        // the mouth's mound
  d = join(d, ellipsoid(p, {0, -8, 36}, {50, 40, 40}), 16);        // lower face
  d = join(d, ellipsoid(p, {46, 10, 16}, {15, 30, 24}), 18);       // the muscle that bites
  d = join(d, rod(p, {55, 30, -8}, {50, -14, 10}, 8, 8), 18);      // the jaw's upright branch
  d = join(d, rod(p, {50, -14, 10}, {17, -43, 66}, 8, 8), 20);     // and its body
  d = join(d, ellipsoid(p, {0, -42, 70}, {19, 12, 15}), 14);       // chin
  d = join(d, ellipsoid(p, {8, -42, 79}, {8, 7, 6}), 8);           // its two pads
  d = join(d, ellipsoid(p, {37, 28, 66}, {18, 14, 15}), 14);       // the cheek's upper pad
  d = join(d, rod(p, {30, 35, 72}, {52, 40, 48}, 6, 6), 16);       // cheekbone
  d = join(d, rod(p, {52, 40, 48}, {66, 44, 4}, 5, 3), 18);        // its arch to the ear
  d = join(d, rod(p, {8, 76, 85}, {30, 80.5f, 76}, 6.5f, 6), 14);  // brow
  d = join(d, rod(p, {30, 80.5f, 76}, {52, 72, 56}, 6, 4), 14);
  d = carve(d, ellipsoid(p, {31, 61, 94}, {18, 11, 19}), 14);    // eye hollows
  d = carve(d, ellipsoid(p, {10, 68, 98}, {5, 7, 11}), 8);       // beside the root of the nose
  d = carve(d, ellipsoid(p, {68, 6, 66}, {16, 24, 24}), 26);     // sunken cheeks
  d = carve(d, ellipsoid(p, {79, 82, 42}, {12, 26, 28}), 24);    // temples
  return carve(d, ellipsoid(p, {0, -20, 99}, {20, 4, 10}), 10);  // between lip and chin
}

// The cord from behind the ear to the breastbone, the larynx, the collar bones and the pit between them.
float neckAndShoulders(const Vec3& p) {
  float d = rod(p, {0, 20, -24}, {0, -110, -26}, 42, 46);
  d = join(d, rod(p, {18, 30, -56}, {34, -72, -48}, 16, 15), 22);  // the nape's muscle
  d = join(d, rod(p, {34, -72, -48}, {98, -112, -32}, 15, 16), 26);
  d = join(d, ellipsoid(p, {76, -132, -22}, {62, 36, 44}), 30);  // shoulders
  d = join(d, ellipsoid(p, {0, -150, 4}, {96, 48, 48}), 26);     // chest
  d = join(d, rod(p, {56, 22, -20}, {40, -40, 8}, 6, 8), 15);
  d = join(d, rod(p, {40, -40, 8}, {11, -106, 36}, 8, 5), 15);
  d = join(d, ellipsoid(p, {0, -58, 22}, {7, 11, 9}), 10);          // larynx
  d = join(d, rod(p, {0, -70, 20}, {0, -100, 22}, 8, 8), 9);        // windpipe
  d = join(d, rod(p, {10, -109, 37}, {48, -105, 27}, 5, 4.5f), 8);  // collar bones, bent like a bow
  d = join(d, rod(p, {48, -105, 27}, {104, -101, -12}, 4.5f, 6), 10);
  d = carve(d, sphere(p, {0, -107, 48}, 8), 9);
  return carve(d, ellipsoid(p, {44, -93, 34}, {20, 7, 13}), 14);  // the hollow above them
}

}  // namespace

float form(const Vec3& p) {
  // neither has a say far beyond the other
  if (p.y() > 84) return skull(p);
  if (p.y() < -88) return neckAndShoulders(p);
  float d = join(skull(p), neckAndShoulders(p), 13);
  // the floor of the mouth hangs a little between jaw and neck
  d = join(d, ellipsoid(p, {0, -36, 36}, {26, 12, 30}), 16);
  // a fold from nose to mouth, and on beside the chin
  d = join(d, ellipsoid(p, {27, 14, 77}, {9, 15, 6}), 13);
  d = carve(d, rod(p, {16, 24, 93}, {27.5f, 6, 85}, 0.3f, 0.5f), 5);
  d = carve(d, rod(p, {27.5f, 6, 85}, {31, -10, 78}, 0.5f, -0.8f), 5);
  return carve(d, rod(p, {29, -14, 77}, {25, -32, 74}, -0.4f, -1.4f), 5);
}

namespace {

float headOf(const Vec3& point) {
  const Vec3 p = folded(point);
  float d = withNose(form(p), point, p);
  d = withMouth(d, p);
  d = withEyelids(d, p);
  d = withEar(d, p);
  return std::max(d, -134.f - p.y());
}

// The white and the clear window before the iris.
Distance eyeOf(float side) {
  return [side](const Vec3& p) {
    const Vec3 q(p.x() * side, p.y(), p.z());
    return join(sphere(q, kEye, kEyeRadius), sphere(q, kEye + Vec3(0, 0, 5.4f), 8), 1.2f);
  };
}

}  // namespace
}  // namespace keeper

std::vector<Piece> keeperPieces(float spacing) {
  using keeper::eyeOf;
  return {{"Head and neck", keeper::headOf, [=](const Vec3& p) { return keeper::weather(p, spacing); },
           boxOf({-150, -140, -116}, {150, 168, 126})},
          {"Left eye", eyeOf(1), {}, boxOf({16, 46, 52}, {47, 76, 84})},
          {"Right eye", eyeOf(-1), {}, boxOf({-47, 46, 52}, {-16, 76, 84})}};
}

}  // namespace juvenor::demo
