// Softens colours among neighbours on the surface: each sample moves toward the smoothed patch under the dab
// by flow times weight. Large brushes cost no more per sample than small ones.
#include "core/brush/patch_grid.h"

namespace juvenor {
namespace {

class Blend final : public Ink {
 public:
  explicit Blend(const InkSetting& setting) : dither_(setting.dither) {}

  void apply(const Surface& surface, const Dab& dab, const Footprint& footprint,
             WorkingField& field) override {
    const size_t n = footprint.samples.size();
    const PatchAxes axes(dab);
    places_.resize(n);
    PatchGrid grid;
    for (size_t k = 0; k < n; ++k) {
      const uint32_t s = footprint.samples[k];
      places_[k] = PatchGrid::placeOf(axes.of(surface.positions[s] - dab.at.position));
      grid.add(places_[k], field, s, std::max(surface.areas[s], 1e-20f));
    }
    const PatchGrid soft = grid.smoothed();
    for (size_t k = 0; k < n; ++k) {
      const PatchGrid::Cell to = soft.at(places_[k]);
      if (to[4] <= 0) continue;
      const WorkingField::Page& page = field.page(footprint.samples[k]);
      const size_t i = footprint.samples[k] % kChunkSize;
      const float amount = std::min(dab.flow, dab.opacity) * footprint.weights[k];
      for (int p = 0; p < field.planes(); ++p) {
        const float from = page.now[p][i];
        page.now[p][i] = static_cast<uint16_t>(
            std::clamp(from + (to[static_cast<size_t>(p)] / to[4] - from) * amount + dither_, 0.f, 65535.f));
      }
    }
  }

 private:
  std::vector<PatchGrid::Place> places_;
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeBlendInk(const InkSetting& setting) {
  return std::make_unique<Blend>(setting);
}

}  // namespace juvenor
