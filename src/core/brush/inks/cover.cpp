// The way both lay and erase go: coverage grows toward the opacity, values move from before the stroke to a
// target, or up by it.
#include <algorithm>

#include "core/brush/ink.h"

namespace juvenor {
namespace {

class Cover final : public Ink {
 public:
  // `taken` is how much of a value before the stroke full coverage takes away: all of it where paint covers,
  // nothing where it adds.
  Cover(const std::array<float, 4>& target, float taken, float dither)
      : target_(target), taken_(taken), dither_(dither) {}

  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    const int planes = field.planes();
    for (size_t k = 0; k < footprint.samples.size(); ++k) {
      const uint32_t s = footprint.samples[k];
      const WorkingField::Page& page = field.page(s);
      const size_t i = s % kChunkSize;
      float& covered = page.coverage[i];
      if (covered >= dab.opacity) continue;
      covered += (dab.opacity - covered) * dab.flow * footprint.weights[k];
      for (int p = 0; p < planes; ++p) {
        const float from = page.before[p][i];
        const float way = target_[static_cast<size_t>(p)] - taken_ * from;
        page.now[p][i] = static_cast<uint16_t>(std::clamp(from + way * covered + dither_, 0.f, 65535.f));
      }
    }
  }

 private:
  std::array<float, 4> target_;
  float taken_, dither_;
};

std::array<float, 4> difference(const InkTarget& a, const InkTarget& b) {
  std::array<float, 4> out;
  for (size_t p = 0; p < 4; ++p) out[p] = static_cast<float>(a[p]) - static_cast<float>(b[p]);
  return out;
}

}  // namespace

std::unique_ptr<Ink> makeCoverInk(const InkTarget& target, float dither) {
  return std::make_unique<Cover>(difference(target, {}), 1.f, dither);
}

std::unique_ptr<Ink> makeRaiseInk(const InkTarget& target, const InkTarget& zero, float dither) {
  return std::make_unique<Cover>(difference(target, zero), 0.f, dither);
}

}  // namespace juvenor
