#include "core/render/edge_average.h"

#include "core/parallel.h"

namespace juvenor {

void EdgeAverage::begin() {
  passes_ = 0;
  begun_ = whole_ = true;
}

void EdgeAverage::begin(const PixelRect& part) {
  if (!begun_ || (whole_ && !smooth())) return begin();
  // a part that was under way is still to be done
  part_ = smooth() ? part : part_.united(part);
  whole_ = false;
  passes_ = 0;
}

void EdgeAverage::add(std::span<const Vec3> light, const ViewSize& size, Toning toning,
                      std::span<uint32_t> mean) {
  begun_ = true;
  sums_.resize(light.size(), Vec3::Zero());
  const PixelRect rect = wanted(size).clipped(size);
  const bool first = passes_ == 0;
  const float part = 1 / static_cast<float>(++passes_);
  parallel(
      static_cast<size_t>(std::max(0, rect.bottom - rect.top)),
      [&](size_t row) {
        const int y = rect.top + static_cast<int>(row);
        for (int x = rect.left; x < rect.right; ++x) {
          const auto i = static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x);
          sums_[i] = first ? light[i] : Vec3(sums_[i] + light[i]);
          mean[i] = toned(part * sums_[i], toning, x, y);
        }
      },
      16);
}

}  // namespace juvenor
