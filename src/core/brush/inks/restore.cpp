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
    coverToward(dab, footprint, field, dither_, [&](uint32_t sample) { return field_.at(sample); });
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
