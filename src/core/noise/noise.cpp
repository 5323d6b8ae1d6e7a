#include "core/noise/noise.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

uint32_t hash(int x, int y, int z, uint32_t seed) {
  uint32_t h = seed + static_cast<uint32_t>(x) * 0x8da6b343u + static_cast<uint32_t>(y) * 0xd8163841u +
               static_cast<uint32_t>(z) * 0xcb1ab31fu;
  h ^= h >> 16;
  h *= 0x7feb352du;
  h ^= h >> 15;
  h *= 0x846ca68bu;
  return h ^ (h >> 16);
}

// Perlin's twelve directions, four of them twice: by table, for a branch on random bits is guessed wrong half
// the time.
constexpr float kGradients[16][3] = {
    {1, 1, 0}, {-1, 1, 0}, {1, -1, 0}, {-1, -1, 0}, {1, 0, 1}, {-1, 0, 1}, {1, 0, -1}, {-1, 0, -1},
    {0, 1, 1}, {0, -1, 1}, {0, 1, -1}, {0, -1, -1}, {1, 1, 0}, {0, -1, 1}, {-1, 1, 0}, {0, -1, -1}};

float gradient(uint32_t h, float x, float y, float z) {
  const float* g = kGradients[h & 15];
  return g[0] * x + g[1] * y + g[2] * z;
}

float fade(float t) {
  return t * t * t * (t * (t * 6 - 15) + 10);
}

// Cells are numbered by whole numbers; so far out that there are none left, noise stands still.
int cellOf(float coordinate) {
  return static_cast<int>(floorToWhole(std::clamp(coordinate, -1e9f, 1e9f)));
}

}  // namespace

float perlin(const Vec3& p, uint32_t seed) {
  const int x = cellOf(p.x()), y = cellOf(p.y()), z = cellOf(p.z());
  const Vec3 f = p - Vec3(static_cast<float>(x), static_cast<float>(y), static_cast<float>(z));
  const float u = fade(f.x()), v = fade(f.y()), w = fade(f.z());
  const auto corner = [&](int i, int j, int k) {
    return gradient(hash(x + i, y + j, z + k, seed), f.x() - static_cast<float>(i),
                    f.y() - static_cast<float>(j), f.z() - static_cast<float>(k));
  };
  const auto mix = [](float a, float b, float t) { return a + t * (b - a); };
  return mix(mix(mix(corner(0, 0, 0), corner(1, 0, 0), u), mix(corner(0, 1, 0), corner(1, 1, 0), u), v),
             mix(mix(corner(0, 0, 1), corner(1, 0, 1), u), mix(corner(0, 1, 1), corner(1, 1, 1), u), v), w);
}

float fractal(Vec3 p, int octaves, uint32_t seed) {
  float sum = 0, strength = 1;
  for (int i = 0; i < octaves; ++i) {
    sum += strength * perlin(p, seed + static_cast<uint32_t>(i) * 101u);
    p *= 2.03f;
    strength *= 0.5f;
  }
  return sum;
}

Cells worley(const Vec3& p, uint32_t seed) {
  const int x = cellOf(p.x()), y = cellOf(p.y()), z = cellOf(p.z());
  float first = 9, second = 9;
  for (int k = -1; k <= 1; ++k)
    for (int j = -1; j <= 1; ++j)
      for (int i = -1; i <= 1; ++i) {
        const uint32_t h = hash(x + i, y + j, z + k, seed);
        const Vec3 q(static_cast<float>(x + i) + static_cast<float>(h & 1023) / 1023.f,
                     static_cast<float>(y + j) + static_cast<float>((h >> 10) & 1023) / 1023.f,
                     static_cast<float>(z + k) + static_cast<float>((h >> 20) & 1023) / 1023.f);
        const float d = (q - p).squaredNorm();
        if (d < first) {
          second = first;
          first = d;
        } else if (d < second) {
          second = d;
        }
      }
  return {std::sqrt(first), std::sqrt(second)};
}

}  // namespace juvenor
