#include "core/textures/layout_density.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr int kMostSide = 16384;

// Areas on the skin and in the layout of the triangles around each sample, in one pass over them.
struct Areas {
  std::vector<float> skin, flat;
};

Areas areasOf(const Sheet& sheet) {
  const Surface &skin = *sheet.skin, &flat = *sheet.flat;
  Areas out{std::vector<float>(skin.size(), 0.f), std::vector<float>(skin.size(), 0.f)};
  for (size_t t = 0; t < skin.triangles.size(); ++t) {
    const auto area = [](const Surface& s, const Triangle& c) {
      return 0.5f *
             (s.positions[c[1]] - s.positions[c[0]]).cross(s.positions[c[2]] - s.positions[c[0]]).norm();
    };
    const Triangle& f = flat.triangles[t];
    if (f[0] == f[1]) continue;
    // (heights are those of islands: a triangle lies level)
    const float a = area(skin, skin.triangles[t]), b = area(flat, f);
    for (const uint32_t s : skin.triangles[t]) {
      out.skin[s] += a;
      out.flat[s] += b;
    }
  }
  return out;
}

}  // namespace

LayoutDensity layoutDensity(const Sheet& sheet, int pixels) {
  const Surface& skin = *sheet.skin;
  const Areas areas = areasOf(sheet);
  // six triangles stand around a sample of an even net, each of √3/4 of its spacing squared (exact for such a
  // net)
  constexpr float kSpacing = 0.62040324f;       // √(4 / (6 √3))
  std::vector<float> across(skin.size(), 0.f);  // in the layout, from point to point
  std::vector<double> skinOf(skin.partCount, 0.0), flatOf(skin.partCount, 0.0);
  for (size_t s = 0; s < skin.size(); ++s) {
    if (!(areas.skin[s] > 0)) continue;
    across[s] = kSpacing * std::sqrt(areas.flat[s]);
    skinOf[skin.parts[s]] += static_cast<double>(areas.skin[s]);
    flatOf[skin.parts[s]] += static_cast<double>(areas.flat[s]);
  }
  LayoutDensity out{ScalarField(skin.size()), 0, std::vector<float>(skin.partCount, 0.f)};
  parallel(out.texels.chunkCount(), [&](size_t c) {
    auto chunk = std::make_shared<Chunk<1>>();
    const size_t begin = c * kChunkSize, end = std::min(skin.size(), begin + kChunkSize);
    for (size_t s = begin; s < end; ++s) {
      const float texels = across[s] * static_cast<float>(pixels);
      chunk->plane[0][s - begin] =
          texels > 0 ? to16(std::clamp(0.5f + 0.25f * std::log2(texels), 0.f, 1.f)) : uint16_t{0};
    }
    out.texels.setChunk(c, std::move(chunk));
  });
  std::erase_if(across, [](float a) { return !(a > 0); });
  if (!across.empty()) {
    const auto thin = across.begin() + static_cast<std::ptrdiff_t>(across.size() / 20);
    std::ranges::nth_element(across, thin);
    for (int side = 256; side <= kMostSide && out.holdsAll == 0; side *= 2)
      if (*thin * static_cast<float>(side) >= 1) out.holdsAll = side;
  }
  double densest = 0;
  for (size_t p = 0; p < skinOf.size(); ++p)
    if (skinOf[p] > 0) densest = std::max(densest, flatOf[p] / skinOf[p]);
  for (size_t p = 0; p < skinOf.size(); ++p)
    if (skinOf[p] > 0 && densest > 0)
      out.parts[p] = static_cast<float>(std::sqrt(flatOf[p] / skinOf[p] / densest));
  return out;
}

}  // namespace juvenor
