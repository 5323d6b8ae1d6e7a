#include "core/render/skin_patch.h"

#include <cmath>

#include "core/noise/noise.h"

namespace juvenor {
namespace {

constexpr uint32_t kWide = 288, kHigh = 144;  // cells

}  // namespace

// Two units wide and one high, with the soft bumps and creases of a cheek.
const std::shared_ptr<const Surface>& skinPatch() {
  static const std::shared_ptr<const Surface> patch = [] {
    Sculpt s;
    for (uint32_t y = 0; y <= kHigh; ++y)
      for (uint32_t x = 0; x <= kWide; ++x) {
        const Vec3 p(2.f * static_cast<float>(x) / kWide - 1, static_cast<float>(y) / kHigh - 0.5f, 0);
        s.vertices.push_back(p + Vec3(0, 0, 0.045f * fractal(3.f * p, 3, 5) - 0.18f * p.squaredNorm()));
      }
    s.polygonStart.push_back(0);
    for (uint32_t y = 0; y < kHigh; ++y)
      for (uint32_t x = 0; x < kWide; ++x) {
        const uint32_t a = y * (kWide + 1) + x, above = a + kWide + 1;
        s.corners.insert(s.corners.end(), {a, a + 1, above + 1, above});
        s.polygonStart.push_back(static_cast<uint32_t>(s.corners.size()));
      }
    if (!finishSculpt(s, {})) return std::shared_ptr<const Surface>();
    auto surface = buildSurface(s);
    return surface ? *surface : nullptr;
  }();
  return patch;
}

std::vector<uint32_t> patchPicture(const Surface& patch, const ColorField& colors, const ViewSize& size) {
  std::vector<uint32_t> out(static_cast<size_t>(size.width) * static_cast<size_t>(size.height), 0xff2e2e2e);
  const Vec3 light = Vec3(-0.3f, 0.6f, 0.75f).normalized();
  const auto litAt = [&](uint32_t gx, uint32_t gy) {
    const uint32_t s = patch.sampleOfVertex[gy * (kWide + 1) + gx];
    const LinearColor c = decode(straight(colorAt(colors, s)));
    const float lit = 0.35f + 0.75f * std::max(0.f, patch.normals[s].dot(light));
    return LinearColor{c.r * lit, c.g * lit, c.b * lit};
  };
  // samples of the patch lie on a grid: those under a pixel are known
  const auto under = [](int pixel, int pixels, uint32_t cells) {
    const auto at = [&](int edge) {
      return cells * static_cast<uint32_t>(edge) / static_cast<uint32_t>(std::max(1, pixels));
    };
    return std::pair(at(pixel), std::max(at(pixel) + 1, at(pixel + 1)));
  };
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x) {
      const auto [left, right] = under(x, size.width, kWide + 1);
      const auto [top, bottom] = under(y, size.height, kHigh + 1);
      LinearColor sum{0, 0, 0};
      for (uint32_t down = top; down < bottom; ++down)
        for (uint32_t across = left; across < right; ++across) {
          const LinearColor c = litAt(across, kHigh - down);
          sum = {sum.r + c.r, sum.g + c.g, sum.b + c.b};
        }
      const float part = 1 / static_cast<float>((bottom - top) * (right - left));
      const EncodedColor e = encode({sum.r * part, sum.g * part, sum.b * part});
      const auto byte = [](float v) { return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f); };
      out[static_cast<size_t>(y * size.width + x)] =
          0xff000000u | byte(e.r) << 16 | byte(e.g) << 8 | byte(e.b);
    }
  return out;
}

}  // namespace juvenor
