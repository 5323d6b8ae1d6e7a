#include "demo/isosurface.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/parallel.h"

namespace juvenor::demo {
namespace {

constexpr int kBlock = 8;  // cells along a block

// The shapes are near true distances; joined ellipsoids underestimate, which this allows for.
constexpr float kSafety = 1.7f;

struct Grid {
  Vec3 origin;
  float cell;
  std::array<int, 3> blocks;

  Vec3 corner(int x, int y, int z) const {
    return origin + cell * Vec3(static_cast<float>(x), static_cast<float>(y), static_cast<float>(z));
  }
};

Grid gridOver(const Box& box, float cell) {
  Grid g;
  g.cell = cell;
  const float span = cell * kBlock;
  // whole blocks on both sides of x = 0
  const float half = std::ceil(std::max(box.high.x(), -box.low.x()) / span);
  g.origin = Vec3(-half * span, box.low.y(), box.low.z());
  g.blocks = {static_cast<int>(2 * half), static_cast<int>(std::ceil((box.high.y() - box.low.y()) / span)),
              static_cast<int>(std::ceil((box.high.z() - box.low.z()) / span))};
  return g;
}

uint64_t keyOf(int x, int y, int z) {
  return static_cast<uint64_t>(z) << 42 | static_cast<uint64_t>(y) << 21 | static_cast<uint64_t>(x);
}

struct BlockResult {
  std::vector<std::pair<uint64_t, Vec3>> cells;
  std::vector<std::array<uint64_t, 4>> quads;
};

// The twelve edges of a cell as pairs of its corners (bit 0 x, bit 1 y, bit 2 z).
constexpr int kEdges[12][2] = {{0, 1}, {2, 3}, {4, 5}, {6, 7}, {0, 2}, {1, 3},
                               {4, 6}, {5, 7}, {0, 4}, {1, 5}, {2, 6}, {3, 7}};

class BlockNets {
 public:
  BlockNets(const Distance& distance, const Grid& grid, int bx, int by, int bz)
      : distance_(distance), grid_(grid), x0_(bx * kBlock), y0_(by * kBlock), z0_(bz * kBlock) {}

  BlockResult run() {
    const Vec3 middle = grid_.corner(x0_, y0_, z0_) + Vec3::Constant(0.5f * kBlock * grid_.cell);
    if (std::abs(distance_(middle)) > kSafety * 0.8661f * kBlock * grid_.cell) return {};
    for (int z = 0; z <= kBlock; ++z)
      for (int y = 0; y <= kBlock; ++y)
        for (int x = 0; x <= kBlock; ++x) at(x, y, z) = distance_(grid_.corner(x0_ + x, y0_ + y, z0_ + z));
    for (int z = 0; z < kBlock; ++z)
      for (int y = 0; y < kBlock; ++y)
        for (int x = 0; x < kBlock; ++x) cell(x, y, z);
    return std::move(result_);
  }

 private:
  float& at(int x, int y, int z) {
    return value_[static_cast<size_t>((z * (kBlock + 1) + y) * (kBlock + 1) + x)];
  }

  void cell(int x, int y, int z) {
    std::array<float, 8> d;
    int inside = 0;
    for (int c = 0; c < 8; ++c) {
      d[static_cast<size_t>(c)] = at(x + (c & 1), y + (c >> 1 & 1), z + (c >> 2));
      inside += d[static_cast<size_t>(c)] < 0;
    }
    if (inside == 0 || inside == 8) return;
    Vec3 sum = Vec3::Zero();
    int crossings = 0;
    for (const auto& e : kEdges) {
      const float a = d[static_cast<size_t>(e[0])], b = d[static_cast<size_t>(e[1])];
      if ((a < 0) == (b < 0)) continue;
      const float t = a / (a - b);
      const Vec3 p(static_cast<float>(e[0] & 1), static_cast<float>(e[0] >> 1 & 1),
                   static_cast<float>(e[0] >> 2));
      const Vec3 q(static_cast<float>(e[1] & 1), static_cast<float>(e[1] >> 1 & 1),
                   static_cast<float>(e[1] >> 2));
      sum += p + t * (q - p);
      ++crossings;
    }
    const int gx = x0_ + x, gy = y0_ + y, gz = z0_ + z;
    result_.cells.emplace_back(keyOf(gx, gy, gz),
                               grid_.corner(gx, gy, gz) + sum * (grid_.cell / static_cast<float>(crossings)));
    quad(d[0], d[1],
         {keyOf(gx, gy - 1, gz - 1), keyOf(gx, gy, gz - 1), keyOf(gx, gy, gz), keyOf(gx, gy - 1, gz)},
         gy > 0 && gz > 0);
    quad(d[0], d[2],
         {keyOf(gx - 1, gy, gz - 1), keyOf(gx - 1, gy, gz), keyOf(gx, gy, gz), keyOf(gx, gy, gz - 1)},
         gx > 0 && gz > 0);
    quad(d[0], d[4],
         {keyOf(gx - 1, gy - 1, gz), keyOf(gx, gy - 1, gz), keyOf(gx, gy, gz), keyOf(gx - 1, gy, gz)},
         gx > 0 && gy > 0);
  }

  // The four cells around a grid edge that the surface crosses.
  void quad(float from, float to, std::array<uint64_t, 4> cells, bool whole) {
    if (!whole || (from < 0) == (to < 0)) return;
    if (from >= 0) std::swap(cells[1], cells[3]);
    result_.quads.push_back(cells);
  }

  const Distance& distance_;
  const Grid& grid_;
  int x0_, y0_, z0_;
  std::array<float, (kBlock + 1) * (kBlock + 1) * (kBlock + 1)> value_;
  BlockResult result_;
};

Vec3 gradientAt(const Distance& distance, const Vec3& p, float step) {
  Vec3 g;
  for (int i = 0; i < 3; ++i) {
    Vec3 a = p, b = p;
    a[i] += step;
    b[i] -= step;
    g[i] = distance(a) - distance(b);
  }
  return normalizedOr(g, Vec3::UnitZ());
}

void settle(const Distance& distance, const Distance& displace, float cell, Vec3& p) {
  const Vec3 n = gradientAt(distance, p, 0.4f * cell);
  p -= std::clamp(distance(p), -cell, cell) * n;
  if (displace) p += displace(p) * n;
}

}  // namespace

double estimateVertices(const Distance& distance, const Box& box, float cell) {
  const float coarse = cell;
  const Grid g = gridOver(box, coarse);
  std::atomic<size_t> cells = 0;
  const int total = g.blocks[0] * g.blocks[1] * g.blocks[2];
  parallelRows(0, total, [&](int i) {
    cells +=
        BlockNets(distance, g, i % g.blocks[0], i / g.blocks[0] % g.blocks[1], i / g.blocks[0] / g.blocks[1])
            .run()
            .cells.size();
  });
  return static_cast<double>(cells);
}

Result<Quads> isosurface(const Distance& distance, const Box& box, float cell, const Distance& displace,
                         const Progress& progress) {
  const Grid g = gridOver(box, cell);
  const int total = g.blocks[0] * g.blocks[1] * g.blocks[2];
  std::vector<BlockResult> blocks(static_cast<size_t>(total));
  std::atomic<int> done = 0;
  std::atomic<bool> stopped = false;
  parallelRows(0, total, [&](int i) {
    if (stopped) return;
    blocks[static_cast<size_t>(i)] =
        BlockNets(distance, g, i % g.blocks[0], i / g.blocks[0] % g.blocks[1], i / g.blocks[0] / g.blocks[1])
            .run();
    if (++done % 4096 == 0 && !report(progress, 0.6f * static_cast<float>(done) / static_cast<float>(total)))
      stopped = true;
  });
  if (stopped) return cancelledError();
  std::vector<std::pair<uint64_t, Vec3>> cells;
  for (const BlockResult& b : blocks) cells.insert(cells.end(), b.cells.begin(), b.cells.end());
  std::sort(cells.begin(), cells.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  Quads out;
  for (const BlockResult& b : blocks)
    for (const auto& q : b.quads) {
      std::array<uint32_t, 4> ids{};
      bool whole = true;
      for (size_t k = 0; k < 4; ++k) {
        const auto found = std::lower_bound(cells.begin(), cells.end(), q[k],
                                            [](const auto& c, uint64_t key) { return c.first < key; });
        whole &= found != cells.end() && found->first == q[k];
        ids[k] = static_cast<uint32_t>(found - cells.begin());
      }
      if (whole) out.quads.push_back(ids);
    }
  out.vertices.resize(cells.size());
  std::atomic<size_t> settled = 0;
  parallelEach(cells.size(), [&](size_t i) {
    if (stopped) return;
    out.vertices[i] = cells[i].second;
    settle(distance, displace, cell, out.vertices[i]);
    if (++settled % 16384 == 0 &&
        !report(progress, 0.6f + 0.4f * static_cast<float>(settled) / static_cast<float>(cells.size())))
      stopped = true;
  });
  if (stopped || !report(progress, 1)) return cancelledError();
  return out;
}

}  // namespace juvenor::demo
