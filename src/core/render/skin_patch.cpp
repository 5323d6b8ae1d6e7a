#include "core/render/skin_patch.h"

#include <cmath>

#include "core/surface/noise.h"

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
  // samples of the patch lie on a grid: the vertex under a pixel is known
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x) {
      const auto across = static_cast<uint32_t>(x), down = static_cast<uint32_t>(y);
      const uint32_t gx = kWide * across / static_cast<uint32_t>(std::max(1, size.width - 1)),
                     gy = kHigh - kHigh * down / static_cast<uint32_t>(std::max(1, size.height - 1));
      const uint32_t s = patch.sampleOfVertex[gy * (kWide + 1) + gx];
      const LinearColor c = decode(straight(colorAt(colors, s)));
      const float lit = 0.35f + 0.75f * std::max(0.f, patch.normals[s].dot(light));
      const EncodedColor e = encode({c.r * lit, c.g * lit, c.b * lit});
      const auto byte = [](float v) { return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f); };
      out[static_cast<size_t>(y * size.width + x)] =
          0xff000000u | byte(e.r) << 16 | byte(e.g) << 8 | byte(e.b);
    }
  return out;
}

}  // namespace juvenor
