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
    const float strength = std::min(dab.flow, dab.opacity);
    for (size_t k = 0; k < n; ++k)
      soft.drawToward(places_[k], field, footprint.samples[k], strength * footprint.weights[k], dither_);
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
