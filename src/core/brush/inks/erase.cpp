// Takes colour away from the layer, or shows again what a mask hides.
#include "core/brush/ink.h"

namespace juvenor {
namespace {

class Erase final : public Ink {
 public:
  explicit Erase(const InkSetting& setting) : dither_(setting.dither) {
    if (setting.onMask) target_.fill(65535);
  }
  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    coverToward(target_, dither_, dab, footprint, field);
  }

 private:
  std::array<uint16_t, 4> target_{};
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeEraseInk(const InkSetting& setting) {
  return std::make_unique<Erase>(setting);
}

}  // namespace juvenor
