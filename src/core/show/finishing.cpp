#include "core/show/finishing.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

// A picture made so small that wide bells over it cost little.
struct SmallLight {
  int width = 1, height = 1, part = 1;
  std::vector<Vec3> light;

  const Vec3& at(int x, int y) const {
    return light[static_cast<size_t>(y) * static_cast<size_t>(width) + static_cast<size_t>(x)];
  }
};

SmallLight madeSmall(const StillPicture& picture) {
  constexpr int kAcross = 480;
  SmallLight out;
  out.part = std::max(1, std::max(picture.size.width, picture.size.height) / kAcross);
  out.width = (picture.size.width + out.part - 1) / out.part;
  out.height = (picture.size.height + out.part - 1) / out.part;
  out.light.assign(static_cast<size_t>(out.width) * static_cast<size_t>(out.height), Vec3::Zero());
  parallelRows(0, out.height, [&](int y) {
    for (int x = 0; x < out.width; ++x) {
      Vec3 sum = Vec3::Zero();
      int count = 0;
      for (int py = y * out.part; py < std::min(picture.size.height, (y + 1) * out.part); ++py)
        for (int px = x * out.part; px < std::min(picture.size.width, (x + 1) * out.part); ++px, ++count)
          sum += picture.light(static_cast<size_t>(py) * static_cast<size_t>(picture.size.width) +
                               static_cast<size_t>(px));
      out.light[static_cast<size_t>(y) * static_cast<size_t>(out.width) + static_cast<size_t>(x)] =
          sum / static_cast<float>(std::max(1, count));
    }
  });
  return out;
}

// One way along rows or columns; beyond the edge it is as within.
SmallLight blurredAlong(const SmallLight& in, float deviation, bool rows) {
  const int reach = static_cast<int>(std::ceil(3 * deviation));
  std::vector<float> bell;
  for (int i = -reach; i <= reach; ++i) {
    const float t = static_cast<float>(i) / deviation;
    bell.push_back(std::exp(-0.5f * t * t));
  }
  SmallLight out = in;
  parallelRows(0, in.height, [&](int y) {
    for (int x = 0; x < in.width; ++x) {
      Vec3 light = Vec3::Zero();
      float sum = 0;
      for (int i = -reach; i <= reach; ++i) {
        const int px = rows ? x + i : x, py = rows ? y : y + i;
        if (px < 0 || py < 0 || px >= in.width || py >= in.height) continue;
        light += bell[static_cast<size_t>(i + reach)] * in.at(px, py);
        sum += bell[static_cast<size_t>(i + reach)];
      }
      out.light[static_cast<size_t>(y) * static_cast<size_t>(in.width) + static_cast<size_t>(x)] =
          light / sum;
    }
  });
  return out;
}

// Scattered as widely as lenses do: mostly near, some far.
SmallLight scatteredLight(const StillPicture& picture) {
  constexpr std::array<std::array<float, 2>, 3> kBells{{{0.004f, 0.5f}, {0.015f, 0.3f}, {0.05f, 0.2f}}};
  const SmallLight small = madeSmall(picture);
  SmallLight out = small;
  for (Vec3& l : out.light) l.setZero();
  for (const auto& [size, part] : kBells) {
    const float deviation = std::max(0.6f, size * static_cast<float>(small.height));
    const SmallLight blurred = blurredAlong(blurredAlong(small, deviation, true), deviation, false);
    for (size_t i = 0; i < out.light.size(); ++i) out.light[i] += part * blurred.light[i];
  }
  return out;
}

// Straight between the middles of what was made small.
Vec3 between(const SmallLight& small, int x, int y) {
  const auto place = [&](int at, int count) {
    return std::clamp((static_cast<float>(at) + 0.5f) / static_cast<float>(small.part) - 0.5f, 0.f,
                      static_cast<float>(count - 1));
  };
  const float px = place(x, small.width), py = place(y, small.height);
  const int x0 = static_cast<int>(px), y0 = static_cast<int>(py);
  const int x1 = std::min(x0 + 1, small.width - 1), y1 = std::min(y0 + 1, small.height - 1);
  const float fx = px - static_cast<float>(x0), fy = py - static_cast<float>(y0);
  return (1 - fy) * ((1 - fx) * small.at(x0, y0) + fx * small.at(x1, y0)) +
         fy * ((1 - fx) * small.at(x0, y1) + fx * small.at(x1, y1));
}

// One number from a normal distribution (Box and Muller 1958).
float bellDraw(uint32_t seed, int x, int y) {
  Draws draws(seed, static_cast<uint64_t>(static_cast<uint32_t>(y)) << 32 | static_cast<uint32_t>(x));
  const float radius = std::sqrt(-2 * std::log(1 - draws.unit()));
  return radius * std::cos(2 * std::numbers::pi_v<float> * draws.unit());
}

}  // namespace

void finish(StillPicture& picture, const Finishing& f) {
  if (!f.any()) return;
  const SmallLight scattered = f.bloom > 0 ? scatteredLight(picture) : SmallLight{};
  const float wide = static_cast<float>(picture.size.width), high = static_cast<float>(picture.size.height);
  // three times as far from one in the middle: a quarter of the light in the corner
  const float corner = 0.25f * (wide * wide + high * high);
  parallelRows(0, picture.size.height, [&](int y) {
    for (int x = 0; x < picture.size.width; ++x) {
      const size_t at =
          static_cast<size_t>(y) * static_cast<size_t>(picture.size.width) + static_cast<size_t>(x);
      Vec3 light = picture.light(at);
      if (f.bloom > 0) light += 0.25f * f.bloom * (between(scattered, x, y) - light);
      const float dx = static_cast<float>(x) + 0.5f - 0.5f * wide,
                  dy = static_cast<float>(y) + 0.5f - 0.5f * high;
      light /= 1 + 3 * f.vignette * (dx * dx + dy * dy) / corner;
      if (f.grain > 0) light *= std::max(0.f, 1 + 0.1f * f.grain * bellDraw(f.seed, x, y));
      picture.set(at, light, picture.cover(at));
    }
  });
}

}  // namespace juvenor
