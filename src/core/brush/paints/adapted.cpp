#include "core/brush/paints/adapted.h"

#include <algorithm>

#include "core/color/oklab.h"
#include "core/parallel.h"
#include "core/surface/graph/harmonic_offset.h"

namespace juvenor {
namespace {

// Where so little of a dab is laid, the skin is what one sees.
constexpr float kRimWeight = 0.08f;

Oklab oklabOf(const EncodedColor& color) {
  return toOklab(decode(color));
}

// At the rim little is laid, or the skin goes on beyond what is.
std::vector<char> rimOf(const Surface& surface, const Footprint& footprint) {
  std::vector<uint32_t> sorted = footprint.samples;
  std::ranges::sort(sorted);
  std::vector<char> out(footprint.samples.size());
  parallel(
      out.size(),
      [&](size_t i) {
        out[i] = footprint.weights[i] < kRimWeight;
        for (const uint32_t n : surface.neighborsOf(footprint.samples[i]))
          out[i] |= !std::ranges::binary_search(sorted, n);
      },
      4096);
  return out;
}

}  // namespace

void AdaptedPaint::bring(const Surface& surface, const Dab&, Footprint& footprint) {
  const size_t count = footprint.samples.size();
  if (footprint.colors.size() != count || count == 0) return;
  const std::vector<char> rim = rimOf(surface, footprint);
  std::vector<Oklab> own(count);
  std::vector<std::array<float, 3>> offset(count, std::array<float, 3>{});
  std::array<double, 3> mean{};
  double rims = 0;
  for (size_t i = 0; i < count; ++i) {
    own[i] = oklabOf(footprint.colors[i]);
    if (!rim[i]) continue;
    const Oklab skin = oklabOf(straight(colorAt(skin_, footprint.samples[i])));
    offset[i] = {skin.l - own[i].l, skin.a - own[i].a, skin.b - own[i].b};
    for (size_t k = 0; k < 3; ++k) mean[k] += static_cast<double>(offset[i][k]);
    ++rims;
  }
  if (rims == 0) return;
  for (size_t i = 0; i < count; ++i)
    if (!rim[i])
      for (size_t k = 0; k < 3; ++k) offset[i][k] = static_cast<float>(mean[k] / rims);
  harmonicOffset(surface, footprint.samples, rim, offset);
  for (size_t i = 0; i < count; ++i) {
    const LinearColor c =
        fromOklab({own[i].l + offset[i][0], own[i].a + offset[i][1], own[i].b + offset[i][2]});
    const auto encoded = [](float v) { return from16(encodeSrgb16(std::clamp(v, 0.f, 1.f))); };
    footprint.colors[i] = {encoded(c.r), encoded(c.g), encoded(c.b)};
  }
}

}  // namespace juvenor
