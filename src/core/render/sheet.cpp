#include "core/render/sheet.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace juvenor {

Camera sheetCamera() {
  Camera out;
  out.parallel = true;
  out.target = {0.5f, 0.5f, 0};
  return out;
}

Vec2 cornerOfTile(int tile) {
  return {static_cast<float>((tile - 1001) % 10), static_cast<float>((tile - 1001) / 10)};
}

Camera framedTile(const Camera& camera, const ViewSize& size, int tile) {
  const Vec2 corner = cornerOfTile(tile);
  Box box;
  box.add({corner.x(), corner.y(), 0});
  box.add({corner.x() + 1, corner.y() + 1, 0});
  return framed(camera, size, box);
}

std::optional<Vec2> placeOnSheet(const Sheet& sheet, const SurfacePoint& at) {
  if (at.triangle >= sheet.flat->triangles.size()) return std::nullopt;
  const Triangle &t = sheet.skin->triangles[at.triangle], &f = sheet.flat->triangles[at.triangle];
  if (f[0] == f[1]) return std::nullopt;
  const Vec3& a = sheet.skin->positions[t[0]];
  const Vec3 ab = sheet.skin->positions[t[1]] - a, ac = sheet.skin->positions[t[2]] - a, p = at.position - a;
  const float bb = ab.squaredNorm(), cc = ac.squaredNorm(), bc = ab.dot(ac), whole = bb * cc - bc * bc;
  const float u = whole > 0 ? (cc * p.dot(ab) - bc * p.dot(ac)) / whole : 0,
              v = whole > 0 ? (bb * p.dot(ac) - bc * p.dot(ab)) / whole : 0;
  const auto flat = [&](size_t k) { return Vec2(sheet.flat->positions[f[k]].head<2>()); };
  return Vec2((1 - u - v) * flat(0) + u * flat(1) + v * flat(2));
}

std::vector<PixelRect> rectsOfChunks(const Sheet& sheet, const Camera& camera, const ViewSize& size,
                                     std::span<const uint32_t> chunks) {
  std::map<uint32_t, PixelRect> islands;
  const Lens lens(camera, size);
  const auto pixel = [](float v) { return static_cast<int>(std::floor(std::clamp(v, -1e6f, 1e6f))); };
  for (const uint32_t chunk : chunks) {
    const size_t begin = chunk * (kChunkSize / kBlockSize),
                 end = std::min(sheet.patchStart.size() - 1, begin + kChunkSize / kBlockSize);
    for (size_t i = begin < end ? sheet.patchStart[begin] : 0; begin < end && i < sheet.patchStart[end];
         ++i) {
      const Sheet::Patch& patch = sheet.patches[i];
      const Vec3 low = lens.project(patch.box.low), high = lens.project(patch.box.high);
      const PixelRect rect =
          PixelRect{pixel(low.x()) - 2, pixel(high.y()) - 2, pixel(high.x()) + 3, pixel(low.y()) + 3}.clipped(
              size);
      if (!rect.empty()) islands[patch.island] = islands[patch.island].united(rect);
    }
  }
  std::vector<PixelRect> out;
  for (const auto& [island, rect] : islands) out.push_back(rect);
  return out;
}

}  // namespace juvenor
