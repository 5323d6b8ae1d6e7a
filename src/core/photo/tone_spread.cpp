#include "core/photo/tone_spread.h"

#include <algorithm>
#include <cmath>

namespace juvenor {

std::optional<ToneSpread> spreadOf(std::span<const LinearColor> colors, std::span<const float> weights) {
  std::array<double, 3> sums{}, squares{};
  double all = 0;
  for (size_t i = 0; i < colors.size(); ++i) {
    const double w = weights.empty() ? 1.0 : static_cast<double>(weights[i]);
    const Oklab lab = toOklab(colors[i]);
    const std::array<float, 3> v{lab.l, lab.a, lab.b};
    for (size_t k = 0; k < 3; ++k) {
      sums[k] += w * static_cast<double>(v[k]);
      squares[k] += w * static_cast<double>(v[k]) * static_cast<double>(v[k]);
    }
    all += w;
  }
  if (!(all > 0)) return std::nullopt;
  ToneSpread out;
  for (size_t k = 0; k < 3; ++k) {
    const double mean = sums[k] / all;
    out.mean[k] = static_cast<float>(mean);
    out.deviation[k] = static_cast<float>(std::sqrt(std::max(0.0, squares[k] / all - mean * mean)));
  }
  return out;
}

std::optional<ToneSpread> spreadOf(const PicturePyramid& picture) {
  constexpr int kLongest = 1024;  // finer pixels hardly change it
  size_t level = 0;
  while (level + 1 < picture.levels() && std::max(picture.width(level), picture.height(level)) > kLongest)
    ++level;
  std::vector<LinearColor> colors;
  std::vector<float> weights;
  for (int y = 0; y < picture.height(level); ++y)
    for (int x = 0; x < picture.width(level); ++x) {
      const PictureValue p = picture.pixel(level, x, y);
      colors.push_back(p.color);
      weights.push_back(p.alpha);
    }
  return spreadOf(colors, weights);
}

}  // namespace juvenor
