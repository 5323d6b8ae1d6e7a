#include "core/photo/picture_data.h"

#include <algorithm>
#include <cmath>

namespace juvenor {

EncodedColor meanColor(const PictureData& picture, float x, float y, int width) {
  const int middleX = std::clamp(static_cast<int>(std::floor(x)), 0, picture.width - 1);
  const int middleY = std::clamp(static_cast<int>(std::floor(y)), 0, picture.height - 1);
  const int before = (std::max(1, width) - 1) / 2, after = std::max(1, width) / 2;
  double sums[3] = {0, 0, 0}, weight = 0;
  for (int v = std::max(0, middleY - before); v <= std::min(picture.height - 1, middleY + after); ++v)
    for (int u = std::max(0, middleX - before); u <= std::min(picture.width - 1, middleX + after); ++u) {
      const uint32_t p =
          picture
              .pixels[static_cast<size_t>(v) * static_cast<size_t>(picture.width) + static_cast<size_t>(u)];
      const double a = (p >> 24) / 255.0;
      for (int c = 0; c < 3; ++c)
        sums[c] +=
            a * static_cast<double>(decodeSrgb(static_cast<float>((p >> (16 - 8 * c)) & 0xff) / 255.f));
      weight += a;
    }
  if (!(weight > 0)) return {};
  const auto mean = [&](int c) { return encodeSrgb(static_cast<float>(sums[c] / weight)); };
  return {mean(0), mean(1), mean(2)};
}

}  // namespace juvenor
