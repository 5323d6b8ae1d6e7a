// Brings back what a field was at another moment: coverage moves every sample from what it was before the
// stroke toward what it was then.
#include "core/brush/inks/cover.h"

namespace juvenor {
namespace {

template <int Planes>
class Restore final : public Ink {
 public:
  Restore(std::shared_ptr<const WorkingField::Any> kept, float dither)
      : kept_(std::move(kept)), field_(std::get<Field<Planes>>(*kept_)), dither_(dither) {}

  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    for (size_t k = 0; k < footprint.samples.size(); ++k) {
      const uint32_t s = footprint.samples[k];
      const WorkingField::Page& page = field.page(s);
      const size_t i = s % kChunkSize;
      if (cover(page.coverage[i], dab, footprint.weights[k]) <= 0) continue;
      const float all = page.coverage[i];
      const auto then = field_.at(s);
      for (size_t p = 0; p < Planes; ++p)
        page.now[p][i] = covered(page.before[p][i], all, all * static_cast<float>(then[p]), dither_);
    }
  }

 private:
  std::shared_ptr<const WorkingField::Any> kept_;
  const Field<Planes>& field_;
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeRestoreInk(const InkSetting& setting) {
  return std::visit(
      [&]<int Planes>(const Field<Planes>&) -> std::unique_ptr<Ink> {
        return std::make_unique<Restore<Planes>>(setting.kept, setting.dither);
      },
      *setting.kept);
}

}  // namespace juvenor
