
#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/parallel.h"
#include "core/render/picture.h"

namespace juvenor {

void VisibilityImage::resize(const ViewSize& s) {
  size = s;
  const size_t n = static_cast<size_t>(s.width) * static_cast<size_t>(s.height);
  triangle.resize(n);
  weights.resize(n);
  fibre.clear();
}

PixelRect PixelRect::united(const PixelRect& o) const {
  if (empty()) return o;
  if (o.empty()) return *this;
  return {std::min(left, o.left), std::min(top, o.top), std::max(right, o.right), std::max(bottom, o.bottom)};
}

PixelRect PixelRect::clipped(const ViewSize& size) const {
  return {std::max(0, left), std::max(0, top), std::min(size.width, right), std::min(size.height, bottom)};
}

Vec2 jitterOf(int index) {
  const double a = 0.5 + 0.7548776662466927 * index, b = 0.5 + 0.5698402909980532 * index;
  // spread evenly, then drawn together so that many make a tent: what lies between pixels belongs to both
  constexpr double kReach = 0.8;
  const auto place = [](double v) {
    const double u = v - std::floor(v);
    const double tent = u < 0.5 ? std::sqrt(2 * u) - 1 : 1 - std::sqrt(2 - 2 * u);
    return static_cast<float>(0.5 + kReach * tent);
  };
  return {place(a), place(b)};
}

namespace {

std::optional<size_t> pixelOf(const ViewSize& size, int x, int y) {
  if (x >= size.width || y >= size.height) return std::nullopt;
  return static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x);
}

// Whether nothing is wanted of 4 × 2 pixels.
bool packetIsDone(std::span<const uint8_t> done, const ViewSize& size, int x0, int y0) {
  if (done.empty()) return false;
  for (int i = 0; i < 8; ++i)
    if (const auto at = pixelOf(size, x0 + i % 4, y0 + i / 4); at && !done[*at]) return false;
  return true;
}

// `rayOf(x, y)`: the ray through a pixel; those a little beside the rectangle are asked for too.
template <class RayOf>
bool castWith(const Rays& rays, const ViewSize& size, const RayOf& rayOf, const std::set<uint32_t>& hidden,
              const PixelRect& wanted, std::span<const uint8_t> done, VisibilityImage& out,
              const std::function<bool()>& stop) {
  const PixelRect rect = wanted.clipped(size);
  out.resize(size);
  if (rect != PixelRect{0, 0, size.width, size.height}) std::ranges::fill(out.triangle, kNone);
  if (rect.empty()) return true;
  std::atomic<bool> stopped = false;
  // packets of 4 × 2 pixels stay coherent
  parallelRows(rect.top / 2, (rect.bottom + 1) / 2, [&](int row) {
    if (stopped || (stop && row % 4 == 0 && stop())) {
      stopped = true;
      return;
    }
    std::array<Ray, 8> packet;
    std::array<Hit, 8> hits;
    for (int x0 = rect.left / 4 * 4; x0 < rect.right; x0 += 4) {
      if (packetIsDone(done, size, x0, row * 2)) {
        for (int i = 0; i < 8; ++i)
          if (const auto at = pixelOf(size, x0 + i % 4, row * 2 + i / 4)) out.triangle[*at] = kNone;
        continue;
      }
      for (int i = 0; i < 8; ++i) packet[static_cast<size_t>(i)] = rayOf(x0 + i % 4, row * 2 + i / 4);
      rays.firstOfEight(packet, hidden, hits);
      for (int i = 0; i < 8; ++i) {
        const int x = x0 + i % 4, y = row * 2 + i / 4;
        if (x < rect.left || x >= rect.right || y < rect.top || y >= rect.bottom) continue;
        const size_t at = static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x);
        const Hit& h = hits[static_cast<size_t>(i)];
        out.triangle[at] = done.empty() || !done[at] ? h.triangle : kNone;
        out.weights[at] = {to16(h.u), to16(h.v)};
      }
    }
  });
  return !stopped;
}

}  // namespace

bool castVisibility(const Rays& rays, const Camera& camera, const ViewSize& size, const Vec2& jitter,
                    const std::set<uint32_t>& hidden, VisibilityImage& out,
                    const std::function<bool()>& stop) {
  return castVisibility(rays, camera, size, jitter, hidden, {0, 0, size.width, size.height}, out, stop);
}

bool castVisibility(const Rays& rays, const Camera& camera, const ViewSize& size, const Vec2& jitter,
                    const std::set<uint32_t>& hidden, const PixelRect& wanted, VisibilityImage& out,
                    const std::function<bool()>& stop) {
  const Lens lens(camera, size);
  const auto rayOf = [&](int x, int y) {
    return lens.rayThrough({static_cast<float>(x) + jitter.x(), static_cast<float>(y) + jitter.y()});
  };
  return castWith(rays, size, rayOf, hidden, wanted, {}, out, stop);
}

bool castVisibility(const Rays& rays, const PixelRays& rayOf, const ViewSize& size,
                    const std::set<uint32_t>& hidden, std::span<const uint8_t> done, VisibilityImage& out,
                    const std::function<bool()>& stop) {
  return castWith(rays, size, rayOf, hidden, {0, 0, size.width, size.height}, done, out, stop);
}

std::vector<uint32_t> chunksSeen(const Surface& surface, const VisibilityImage& visibility) {
  std::vector<char> marks(chunkCount(surface.size()), 0);
  parallel(
      visibility.triangle.size(),
      [&](size_t at) {
        const uint32_t t = visibility.triangle[at];
        if (t == kNone) return;
        for (const uint32_t s : surface.triangles[t]) {
          std::atomic_ref mark(marks[s / kChunkSize]);
          if (!mark.load(std::memory_order_relaxed)) mark.store(1, std::memory_order_relaxed);
        }
      },
      32'768);
  std::vector<uint32_t> out;
  for (uint32_t c = 0; c < marks.size(); ++c)
    if (marks[c]) out.push_back(c);
  return out;
}

PixelRect rectOfChunks(const Surface& surface, const Camera& camera, const ViewSize& size,
                       std::span<const uint32_t> chunks) {
  PixelRect out;
  const Lens lens(camera, size);
  for (const uint32_t chunk : chunks) {
    const size_t begin = chunk * (kChunkSize / kBlockSize),
                 end = std::min(surface.blocks.size(), begin + kChunkSize / kBlockSize);
    for (size_t b = begin; b < end; ++b) {
      const Box& box = surface.blocks[b];
      if (box.empty()) continue;
      for (int corner = 0; corner < 8; ++corner) {
        const Vec3 p((corner & 1 ? box.high : box.low).x(), (corner & 2 ? box.high : box.low).y(),
                     (corner & 4 ? box.high : box.low).z());
        const Vec3 q = lens.project(p);
        if (!camera.parallel && q.z() <= 0) return {0, 0, size.width, size.height};
        const auto clampInt = [](float v) { return static_cast<int>(std::clamp(v, -1e6f, 1e6f)); };
        // triangles reach a little beyond the samples of a block
        const int edge = 2 + clampInt(2 * surface.spacing * lens.pixelsPerUnit(p));
        out = out.united(
            {clampInt(q.x()) - edge, clampInt(q.y()) - edge, clampInt(q.x()) + edge, clampInt(q.y()) + edge});
      }
    }
  }
  return out.clipped(size);
}

}  // namespace juvenor
