// A picture on the skin: its samples are laid flat around the dab, and each takes the mean of the pixels it
// covers. The picture's longer side is as long as the dab is wide. Hardness below 1 fades it toward its
// edges.
#include <cmath>
#include <numbers>

#include "core/brush/tip.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

class PictureTip final : public Tip {
 public:
  PictureTip(const StampTip& setting, float hardness) : setting_(setting), hardness_(hardness) {}

  void find(const Surface& surface, Flood& flood, const Dab& dab, Footprint& out) override {
    out.clear();
    if (!(dab.radius > 0)) return;
    const Stamp& stamp = *setting_.stamp;
    // as far as the picture goes, and a little more: places are known only when they settle
    const float longest = static_cast<float>(std::max(stamp.width(), stamp.height())),
                margin = 4 * surface.spacing;
    const Vec2 side(static_cast<float>(stamp.width()) / longest,
                    static_cast<float>(stamp.height()) / longest);
    const bool all = setting_.inverted;
    flood.flattening().find(surface, dab.at, dab.along, dab.radius * std::numbers::sqrt2_v<float>, chart_,
                            1.04f * dab.radius * (all ? Vec2(Vec2::Ones()) : side) + Vec2::Constant(margin));
    pixels_.resize(chart_.samples.size());
    parallel(
        pixels_.size(), [&](size_t i) { pixels_[i] = pixelsFor(surface, dab, i); }, 2048);
    for (size_t i = 0; i < pixels_.size(); ++i) {
      if (!(pixels_[i].weight > 0)) continue;
      const StampValue& value = pixels_[i].value;
      out.samples.push_back(chart_.samples[i]);
      out.weights.push_back(pixels_[i].weight);
      if (setting_.ownColors && stamp.hasColor()) out.colors.push_back(value.color);
      if (stamp.hasRelief()) out.relief.push_back(value.relief);
      if (stamp.hasGloss()) out.gloss.push_back(value.gloss);
    }
  }

 private:
  struct Pixels {
    StampValue value;
    float weight = 0;
  };

  Pixels pixelsFor(const Surface& surface, const Dab& dab, size_t i) const {
    const uint32_t s = chart_.samples[i];
    Vec2 place = chart_.places[i] / dab.radius;
    if (dab.flipped) place.y() = -place.y();
    const float rim = std::max(std::abs(place.x()), std::abs(place.y()));
    if (rim >= 1) return {};
    Pixels out{setting_.stamp->at(place, std::sqrt(surface.areas[s]) / dab.radius)};
    out.weight = (setting_.inverted ? 1 - out.value.shape : out.value.shape) * falloff(rim, hardness_);
    if (dab.frontOnly) out.weight *= facing(surface.normals[s], dab.at.toViewer);
    return out;
  }

  StampTip setting_;
  float hardness_;
  SkinChart chart_;
  std::vector<Pixels> pixels_;
};

}  // namespace

std::unique_ptr<Tip> makeStampTip(const StampTip& setting, float hardness) {
  return std::make_unique<PictureTip>(setting, hardness);
}

}  // namespace juvenor
