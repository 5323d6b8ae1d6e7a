#include "core/render/kind_picture.h"

#include <cmath>

#include "core/layers/composite.h"
#include "core/surface/noise.h"

namespace juvenor {
namespace {

// Two units wide and one high, with the soft bumps and creases of a cheek.
const std::shared_ptr<const Surface>& patchOfSkin() {
  static const std::shared_ptr<const Surface> patch = [] {
    constexpr uint32_t kWide = 192, kHigh = 96;
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

}  // namespace

Result<std::vector<uint32_t>> kindPicture(const SourceKind& kind, const ViewSize& size) {
  const auto patch = patchOfSkin();
  if (!patch) return Error{"there is no patch of skin"};
  static SurfaceMaps maps(patch);
  Layer layer;
  layer.id = 1;
  layer.source = kind.example(*patch);
  const auto composite =
      compositeOf({std::make_shared<Layer>(std::move(layer))}, maps, {0.71f, 0.54f, 0.42f});
  if (!composite) return composite.error();
  std::vector<uint32_t> out(static_cast<size_t>(size.width) * static_cast<size_t>(size.height), 0xff2e2e2e);
  const Vec3 light = Vec3(-0.3f, 0.6f, 0.75f).normalized();
  // samples of the patch lie on a grid: the vertex under a pixel is known
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x) {
      const int gx = 192 * x / std::max(1, size.width - 1), gy = 96 - 96 * y / std::max(1, size.height - 1);
      const uint32_t s = patch->sampleOfVertex[static_cast<size_t>(gy * 193 + gx)];
      const LinearColor c = decode(straight(colorAt(*composite, s)));
      const float lit = 0.35f + 0.75f * std::max(0.f, patch->normals[s].dot(light));
      const EncodedColor e = encode({c.r * lit, c.g * lit, c.b * lit});
      const auto byte = [](float v) { return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f); };
      out[static_cast<size_t>(y * size.width + x)] =
          0xff000000u | byte(e.r) << 16 | byte(e.g) << 8 | byte(e.b);
    }
  return out;
}

}  // namespace juvenor
