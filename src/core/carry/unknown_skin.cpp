#include "core/carry/unknown_skin.h"

#include <algorithm>
#include <numeric>

namespace juvenor {

UnknownSkin::UnknownSkin(std::shared_ptr<const Surface> surface, const Correspondence& from)
    : surface_(std::move(surface)) {
  const size_t count = from.size();
  for (size_t s = 0; s < count; ++s) unknown_ += from.has(s) ? 0 : 1;
  if (unknown_ == 0) return;
  known_.resize(count);
  placeOf_.assign(count, kNone);
  for (size_t s = 0; s < count; ++s) known_[s] = from.has(s);
  const auto reach = [&](uint32_t s) {
    for (const uint32_t n : surface_->neighborsOf(s))
      if (!known_[n] && placeOf_[n] == kNone) {
        placeOf_[n] = static_cast<uint32_t>(order_.size());
        order_.push_back(n);
      }
  };
  for (uint32_t s = 0; s < count; ++s)
    if (known_[s]) reach(s);
  for (size_t i = 0; i < order_.size(); ++i) reach(order_[i]);
  sorted_.resize(order_.size());
  std::iota(sorted_.begin(), sorted_.end(), size_t{0});
  std::ranges::sort(sorted_, {}, [&](size_t i) { return order_[i]; });
}

void UnknownSkin::flow(int planes, const std::function<float(uint32_t, int)>& known, float* values) const {
  constexpr int kRounds = 40;
  const auto width = static_cast<size_t>(planes);
  // the first round goes inward: what comes later is not known yet
  for (int round = 0; round <= kRounds; ++round)
    for (size_t i = 0; i < order_.size(); ++i)
      for (size_t p = 0; p < width; ++p) {
        float sum = 0, count = 0;
        for (const uint32_t n : surface_->neighborsOf(order_[i])) {
          const uint32_t place = placeOf_[n];
          if (known_[n]) {
            sum += known(n, static_cast<int>(p));
          } else if (place != kNone && (round > 0 || place < i)) {
            sum += values[place * width + p];
          } else {
            continue;
          }
          ++count;
        }
        if (count > 0) values[i * width + p] = sum / count;
      }
}

}  // namespace juvenor
