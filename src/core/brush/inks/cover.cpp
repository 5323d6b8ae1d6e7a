#include "core/brush/inks/cover.h"

namespace juvenor {
namespace {

class Cover final : public Ink {
 public:
  explicit Cover(const InkTarget& target, float dither) : dither_(dither) {
    std::ranges::copy(target, target_.begin());
  }

  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    coverToward(
        dab, footprint, field, dither_, [&](uint32_t) -> const auto& { return target_; });
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
