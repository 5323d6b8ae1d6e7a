#include "core/render/edge_average.h"

#include "core/parallel.h"

namespace juvenor {

void EdgeAverage::add(std::span<const uint32_t> pixels, std::span<uint32_t> mean) {
  if (passes_ == 0) sums_.assign(pixels.size(), {});
  const auto passes = static_cast<uint32_t>(++passes_);
  parallel(
      pixels.size(),
      [&](size_t i) {
        uint32_t p = 0xff;
        for (size_t c = 0; c < 3; ++c) {
          sums_[i][c] = static_cast<uint16_t>(sums_[i][c] + ((pixels[i] >> (16 - 8 * c)) & 0xff));
          p = p << 8 | ((sums_[i][c] + passes / 2) / passes);
        }
        mean[i] = p;
      },
      32768);
}

}  // namespace juvenor
