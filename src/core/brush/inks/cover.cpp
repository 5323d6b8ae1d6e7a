#include "core/brush/inks/cover.h"

namespace juvenor {
namespace {

class Cover final : public Ink {
 public:
  explicit Cover(const InkTarget& target, float dither) : dither_(dither) {
    std::ranges::copy(target, target_.begin());
  }

  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    const int planes = field.planes();
    for (size_t k = 0; k < footprint.samples.size(); ++k) {
      const uint32_t s = footprint.samples[k];
      const WorkingField::Page& page = field.page(s);
      const size_t i = s % kChunkSize;
      if (cover(page.coverage[i], dab, footprint.weights[k]) <= 0) continue;
      const float all = page.coverage[i];
      for (int p = 0; p < planes; ++p)
        page.now[p][i] = covered(page.before[p][i], all, all * target_[static_cast<size_t>(p)], dither_);
    }
  }

 private:
  std::array<float, 4> target_;
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeCoverInk(const InkTarget& target, float dither) {
  return std::make_unique<Cover>(target, dither);
}

}  // namespace juvenor
