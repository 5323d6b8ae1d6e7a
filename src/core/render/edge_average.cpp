#include "core/render/edge_average.h"

#include "core/parallel.h"

namespace juvenor {

void EdgeAverage::add(std::span<const Vec3> light, int width, Toning toning, std::span<uint32_t> mean) {
  if (passes_ == 0) sums_.assign(light.size(), Vec3::Zero());
  const float part = 1 / static_cast<float>(++passes_);
  parallel(
      light.size(),
      [&](size_t i) {
        sums_[i] += light[i];
        const auto across = static_cast<size_t>(width);
        mean[i] = toned(part * sums_[i], toning, static_cast<int>(i % across), static_cast<int>(i / across));
      },
      32768);
}

}  // namespace juvenor
