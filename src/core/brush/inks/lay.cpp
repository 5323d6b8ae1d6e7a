// Lays paint, or hides on a mask: the airbrush. Flow builds the stroke up dab by dab, opacity is where it
// ends. Heights add to those that are there. Where dabs differ in what they lay, a later one covers an
// earlier one by as much as it covers the skin.
#include "core/brush/inks/cover.h"

namespace juvenor {
namespace {

std::array<float, 4> floats(const auto& values) {
  std::array<float, 4> out{};
  for (size_t p = 0; p < values.size(); ++p) out[p] = static_cast<float>(values[p]);
  return out;
}

// What a channel of the pen lays at one sample of a footprint.
template <Channel C>
class Lay final : public Ink {
 public:
  explicit Lay(const InkSetting& setting)
      : setting_(setting),
        usual_(of(setting.paint)),
        taken_(factsOf(C).rule == ChannelRule::Add ? 0.f : 1.f) {}

  void apply(const Surface&, const Dab& dab, const Footprint& footprint, WorkingField& field) override {
    const int planes = field.planes();
    std::array<float, 4> target = usual_;
    if (C == Channel::Color && dab.color) target = colored(*dab.color);
    for (size_t k = 0; k < footprint.samples.size(); ++k) {
      const uint32_t s = footprint.samples[k];
      const WorkingField::Page& page = field.page(s);
      const size_t i = s % kChunkSize;
      const float before = page.coverage[i];
      const float grown = cover(page.coverage[i], dab, footprint.weights[k]);
      if (grown <= 0) continue;
      vary(footprint, k, target);
      // as much of it as there is paint (source-atop, Porter and Duff)
      const float there =
          field.keepsCover() ? static_cast<float>(page.before[planes - 1][i]) * (1.f / 65535.f) : 1.f;
      // over what the stroke laid here before, as Porter and Duff have it
      const float over = std::min(1.f, grown / std::max(1 - before, 1e-6f));
      for (int p = 0; p < planes; ++p) {
        float& laid = page.laid[p][i];
        laid += over * (there * target[static_cast<size_t>(p)] - laid);
        page.now[p][i] = covered(page.before[p][i], taken_ * page.coverage[i], laid, setting_.dither);
      }
    }
  }

 private:
  std::array<float, 4> of(const ChannelValues& values) const {
    std::array<float, 4> out = floats(laid<C>(values, setting_.reliefStep));
    if constexpr (factsOf(C).rule == ChannelRule::Add) out[0] -= kLevel;
    return out;
  }
  std::array<float, 4> colored(const EncodedColor& color) const { return of(ChannelValues(color)); }

  void vary(const Footprint& footprint, size_t k, std::array<float, 4>& target) const {
    if (C == Channel::Color && !footprint.colors.empty()) target = colored(footprint.colors[k]);
    if (C == Channel::Gloss && !footprint.gloss.empty()) target[0] = footprint.gloss[k] * usual_[0];
    if (C == Channel::Relief && !footprint.relief.empty()) target[0] = footprint.relief[k] * usual_[0];
  }

  InkSetting setting_;
  std::array<float, 4> usual_;
  float taken_;
};

}  // namespace

std::unique_ptr<Ink> makeLayInk(const InkSetting& setting) {
  // a mask is hidden: nothing is laid
  if (!setting.channel) return makeCoverInk({}, setting.dither);
  std::unique_ptr<Ink> out;
  eachChannel([&](auto c) {
    if (setting.channel == c()) out = std::make_unique<Lay<c()>>(setting);
  });
  return out;
}

}  // namespace juvenor
