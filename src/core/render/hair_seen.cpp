#include "core/render/hair_seen.h"

#include <atomic>

#include "core/parallel.h"
#include "core/render/mixed.h"

namespace juvenor {
namespace {

// How far along a ray the skin lies that a pixel shows; endless where it shows none.
float reachOf(const Surface& surface, const VisibilityImage& image, size_t at, const Ray& ray) {
  const uint32_t triangle = image.triangle[at];
  if (triangle == kNone) return std::numeric_limits<float>::infinity();
  const Mixed m = mixedAt(surface, triangle, from16(image.weights[at][0]), from16(image.weights[at][1]));
  Vec3 place = Vec3::Zero();
  m.each([&](uint32_t s, float weight) { place += weight * surface.positions[s]; });
  return (place - ray.origin).dot(ray.direction);
}

template <class RayOf>
bool castWith(const FibreRays& hair, const Surface& surface, const RayOf& rayOf, const PixelRect& wanted,
              std::span<const uint8_t> done, VisibilityImage& image, const std::function<bool()>& stop) {
  const ViewSize size = image.size;
  const PixelRect rect = wanted.clipped(size);
  image.fibre.assign(image.triangle.size(), {});
  if (rect.empty()) return true;
  std::atomic<bool> stopped = false;
  parallelRows(rect.top / 2, (rect.bottom + 1) / 2, [&](int row) {
    if (stopped || (stop && row % 4 == 0 && stop())) {
      stopped = true;
      return;
    }
    std::array<Ray, 8> packet;
    std::array<float, 8> reach;
    std::array<FibreHit, 8> hits;
    for (int x0 = rect.left / 4 * 4; x0 < rect.right; x0 += 4) {
      const auto place = [&](int i) {
        const int x = x0 + i % 4, y = row * 2 + i / 4;
        const bool within = x >= rect.left && x < rect.right && y >= rect.top && y < rect.bottom;
        const ptrdiff_t at = static_cast<ptrdiff_t>(y) * size.width + x;
        return within && (done.empty() || !done[static_cast<size_t>(at)]) ? at : ptrdiff_t{-1};
      };
      bool any = false;
      for (int i = 0; i < 8; ++i) any = any || place(i) >= 0;
      if (!any) continue;
      for (int i = 0; i < 8; ++i) {
        const auto k = static_cast<size_t>(i);
        packet[k] = rayOf(x0 + i % 4, row * 2 + i / 4);
        const ptrdiff_t at = place(i);
        reach[k] = at < 0 ? -1 : reachOf(surface, image, static_cast<size_t>(at), packet[k]);
      }
      hair.firstOfEight(packet, reach, FibreRays::As::Curves, hits);
      for (int i = 0; i < 8; ++i)
        if (const ptrdiff_t at = place(i); at >= 0) {
          const FibreHit& hit = hits[static_cast<size_t>(i)];
          image.fibre[static_cast<size_t>(at)] = {hit.segment, to16(hit.along)};
        }
    }
  });
  return !stopped;
}

}  // namespace

bool castHair(const FibreRays& hair, const Surface& surface, const Camera& camera, const Vec2& jitter,
              const PixelRect& wanted, VisibilityImage& image, const std::function<bool()>& stop) {
  const Lens lens(camera, image.size);
  const auto rayOf = [&](int x, int y) {
    return lens.rayThrough({static_cast<float>(x) + jitter.x(), static_cast<float>(y) + jitter.y()});
  };
  return castWith(hair, surface, rayOf, wanted, {}, image, stop);
}

bool castHair(const FibreRays& hair, const Surface& surface, const PixelRays& rayOf,
              std::span<const uint8_t> done, VisibilityImage& image, const std::function<bool()>& stop) {
  return castWith(hair, surface, rayOf, {0, 0, image.size.width, image.size.height}, done, image, stop);
}

}  // namespace juvenor
