#include "core/brush/paints/slide.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

constexpr float kNear = 4;  // widths of a sample to what mirrors it

}  // namespace

void PaintThroughSlide::bring(const Surface& surface, const Dab& dab, Footprint& footprint) {
  const size_t count = footprint.samples.size(), side = sideOf(dab);
  std::vector<Brought*> places(count);
  for (size_t i = 0; i < count; ++i) {
    const uint32_t s = footprint.samples[i];
    std::vector<Brought>& page = known_[{side, s / kChunkSize}];
    if (page.empty()) page.resize(kChunkSize);
    places[i] = &page[s % kChunkSize];
  }
  parallel(
      count,
      [&](size_t i) {
        if (places[i]->cover < 0) *places[i] = lookedUp(surface, footprint.samples[i], dab);
      },
      256);
  footprint.colors.resize(count);
  for (size_t i = 0; i < count; ++i) {
    footprint.weights[i] *= places[i]->cover;
    footprint.colors[i] = places[i]->color;
  }
  if (!setting_.split.detail) return;
  footprint.relief.resize(count);
  footprint.gloss.resize(count);
  for (size_t i = 0; i < count; ++i) {
    footprint.relief[i] = std::clamp(places[i]->detail, -1.f, 1.f);
    footprint.gloss[i] = std::clamp(0.5f + 0.5f * places[i]->detail, 0.f, 1.f);
  }
}

PaintThroughSlide::Brought PaintThroughSlide::lookedUp(const Surface& surface, uint32_t sample,
                                                       const Dab& dab) const {
  SlideView::Spot spot{dab.mirrors.place(surface.positions[sample], dab.across),
                       dab.mirrors.direction(surface.normals[sample], dab.across, surface.positions[sample]),
                       surface.areas[sample]};
  Brought out;
  out.cover = 0;
  const auto landing = view_.landing(spot);
  if (!landing || !landing->inside) return out;
  if (light_) spot.light = lightAt(surface, sample, spot);
  const PhotoPoint photo = photoAt(view_, spot, *landing, setting_.split);
  out.cover = photo.alpha * view_.inset(*landing, setting_.feather);
  out.detail = photo.detail;
  LinearColor color = photo.color;
  if (setting_.split.part == PhotoPart::Detail) {
    const LinearColor below =
        setting_.skin.size() > sample ? decode(straight(colorAt(setting_.skin, sample))) : LinearColor{};
    color = {below.r * color.r, below.g * color.g, below.b * color.b};
  }
  out.color = {from16(encodeSrgb16(color.r)), from16(encodeSrgb16(color.g)), from16(encodeSrgb16(color.b))};
  return out;
}

// A mirrored dab takes what the photo shows of the other side, with the light that lies there.
ColorFactors PaintThroughSlide::lightAt(const Surface& surface, uint32_t sample,
                                        const SlideView::Spot& spot) const {
  if (spot.place != surface.positions[sample])
    sample = nearestSample(surface, spot.place, kNear * std::sqrt(spot.area)).value_or(sample);
  return light_->at(sample, spot.place, spot.normal);
}

}  // namespace juvenor
