// The way both lay and erase go: coverage grows toward the opacity, values move from before the stroke to a
// target.
#include <algorithm>

#include "core/brush/ink.h"

namespace juvenor {
namespace {

class Cover final : public Ink {
 public:
  Cover(const std::array<uint16_t, 4>& target, float dither) : target_(target), dither_(dither) {}

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
        const float from = page.before[p][i], to = target_[static_cast<size_t>(p)];
        page.now[p][i] =
            static_cast<uint16_t>(std::clamp(from + (to - from) * covered + dither_, 0.f, 65535.f));
      }
    }
  }

 private:
  std::array<uint16_t, 4> target_;
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeCoverInk(const std::array<uint16_t, 4>& target, float dither) {
  return std::make_unique<Cover>(target, dither);
}

}  // namespace juvenor
