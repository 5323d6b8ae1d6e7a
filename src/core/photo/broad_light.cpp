#include "core/photo/broad_light.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

constexpr int kLongest = 160;                    // pixels of the small picture
constexpr float kSunk = 0.004f, kBlown = 0.96f;  // linear; beyond them a pixel tells nothing of the light
constexpr float kHardly = 0.02f;

// A Gaussian mean of values by their weights, one axis after the other.
void blur(std::vector<float>& values, int width, int height, float deviation) {
  const int reach = std::max(1, static_cast<int>(std::ceil(3 * deviation)));
  std::vector<float> bell(static_cast<size_t>(reach) + 1);
  for (size_t i = 0; i < bell.size(); ++i)
    bell[i] = std::exp(-0.5f * static_cast<float>(i * i) / (deviation * deviation));
  std::vector<float> from;
  for (const bool across : {true, false}) {
    from = values;
    const int length = across ? width : height;
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x) {
        const int at = across ? x : y;
        float sum = 0;
        for (int k = std::max(0, at - reach); k <= std::min(length - 1, at + reach); ++k) {
          const int index = across ? y * width + k : k * width + x;
          sum += bell[static_cast<size_t>(std::abs(k - at))] * from[static_cast<size_t>(index)];
        }
        values[static_cast<size_t>(y * width + x)] = sum;
      }
  }
}

}  // namespace

float BroadLight::at(const Vec2& pixel) const {
  const float x = std::clamp(pixel.x() * scale - 0.5f, 0.f, static_cast<float>(width - 1)),
              y = std::clamp(pixel.y() * scale - 0.5f, 0.f, static_cast<float>(height - 1));
  const int left = std::min(static_cast<int>(x), std::max(0, width - 2)),
            top = std::min(static_cast<int>(y), std::max(0, height - 2));
  const float u = x - static_cast<float>(left), v = y - static_cast<float>(top);
  const auto value = [&](int i, int j) {
    return values[static_cast<size_t>(std::min(j, height - 1) * width + std::min(i, width - 1))];
  };
  return (1 - v) * ((1 - u) * value(left, top) + u * value(left + 1, top)) +
         v * ((1 - u) * value(left, top + 1) + u * value(left + 1, top + 1));
}

BroadLight broadLight(const PicturePyramid& picture, float broad) {
  size_t level = 0;
  while (level + 1 < picture.levels() && std::max(picture.width(level), picture.height(level)) > kLongest)
    ++level;
  BroadLight out;
  out.width = picture.width(level);
  out.height = picture.height(level);
  out.scale = std::pow(0.5f, static_cast<float>(level));
  const auto count = static_cast<size_t>(out.width) * static_cast<size_t>(out.height);
  out.values.resize(count);
  std::vector<float> weights(count);
  out.opaque.resize(count);
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      const auto i = static_cast<size_t>(y * out.width + x);
      const PictureValue p = picture.pixel(level, x, y);
      const float bright = brightness(p.color);
      out.opaque[i] = p.alpha;
      weights[i] = p.alpha * (bright < kSunk || bright > kBlown ? kHardly : 1.f);
      out.values[i] = weights[i] * bright;
    }
  const float deviation = std::max(0.5f, 0.5f * broad * static_cast<float>(std::max(out.width, out.height)));
  blur(out.values, out.width, out.height, deviation);
  std::vector<float> all = weights;
  blur(all, out.width, out.height, deviation);
  double sum = 0, whole = 0;
  for (size_t i = 0; i < count; ++i) {
    out.values[i] = all[i] > 1e-12f ? std::max(out.values[i] / all[i], 1e-4f) : 0;
    sum += static_cast<double>(out.opaque[i] * out.values[i]);
    whole += static_cast<double>(out.opaque[i]);
  }
  const float mean = whole > 0 && sum > 0 ? static_cast<float>(sum / whole) : 1.f;
  for (float& v : out.values) v = v > 0 ? v / mean : 1.f;
  return out;
}

}  // namespace juvenor
