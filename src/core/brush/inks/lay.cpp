// Lays colour, or hides on a mask: the airbrush. Flow builds the stroke up dab by dab, opacity is where it
// ends.
#include "core/brush/ink.h"

namespace juvenor {
namespace {

class Lay final : public Ink {
 public:
  explicit Lay(const InkSetting& setting) : dither_(setting.dither) {
    const Rgba16 c = opaque16(setting.color);
    if (!setting.onMask) target_ = {c.r, c.g, c.b, c.a};
  }
  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    coverToward(target_, dither_, dab, footprint, field);
  }

 private:
  std::array<uint16_t, 4> target_{};
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeLayInk(const InkSetting& setting) {
  return std::make_unique<Lay>(setting);
}

}  // namespace juvenor
