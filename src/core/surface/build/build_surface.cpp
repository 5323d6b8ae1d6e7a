// From a sculpt to samples. The space-filling curve is Hilbert's, by John Skilling, "Programming the Hilbert
// curve", AIP Conference Proceedings 707, 2004.
#include <tbb/parallel_sort.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/parallel.h"
#include "core/sculpt/each_triangle.h"
#include "core/surface/build/elsewhere.h"
#include "core/surface/surface.h"

namespace juvenor {

namespace {

// So many points go through the curve side by side, in the lanes of the processor.
constexpr size_t kLanes = 16;
using Lanes = std::array<uint32_t, kLanes>;

// Skilling's walk from the highest bit down: where an axis' bit is set the low bits of the first axis turn
// over, otherwise the two exchange them; without branches, which nobody could foresee.
void alongCurve(Lanes& xs, Lanes& ys, Lanes& zs) {
  constexpr uint32_t kBits = 16;
  // copies, so that the compiler knows them apart
  Lanes x = xs, y = ys, z = zs, t{};
  for (uint32_t bit = kBits - 1; bit > 0; --bit) {
    const uint32_t low = (1u << bit) - 1;
    for (size_t k = 0; k < kLanes; ++k) {
      x[k] ^= (0u - (x[k] >> bit & 1)) & low;
      const uint32_t ySet = (0u - (y[k] >> bit & 1)) & low, ySwap = (x[k] ^ y[k]) & (low ^ ySet);
      x[k] ^= ySet | ySwap;
      y[k] ^= ySwap;
      const uint32_t zSet = (0u - (z[k] >> bit & 1)) & low, zSwap = (x[k] ^ z[k]) & (low ^ zSet);
      x[k] ^= zSet | zSwap;
      z[k] ^= zSwap;
    }
  }
  for (size_t k = 0; k < kLanes; ++k) {
    y[k] ^= x[k];
    z[k] ^= y[k];
  }
  for (uint32_t bit = kBits - 1; bit > 0; --bit)
    for (size_t k = 0; k < kLanes; ++k) t[k] ^= (0u - (z[k] >> bit & 1)) & ((1u << bit) - 1);
  for (size_t k = 0; k < kLanes; ++k) {
    xs[k] = x[k] ^ t[k];
    ys[k] = y[k] ^ t[k];
    zs[k] = z[k] ^ t[k];
  }
}

// The bits of three axes in turn.
uint64_t interleaved(uint32_t x, uint32_t y, uint32_t z) {
  // two zeros between any two bits
  const auto spread = [](uint64_t b) {
    b = (b | b << 16) & 0x0000ff0000ff;
    b = (b | b << 8) & 0x00f00f00f00f;
    b = (b | b << 4) & 0x0c30c30c30c3;
    return (b | b << 2) & 0x249249249249;
  };
  return spread(x) << 2 | spread(y) << 1 | spread(z);
}

}  // namespace

uint64_t hilbertIndex(uint32_t x, uint32_t y, uint32_t z) {
  Lanes a{x}, b{y}, c{z};
  alongCurve(a, b, c);
  return interleaved(a[0], b[0], c[0]);
}

namespace {

// Room whose pages are first met by the cores that fill it, not by one that clears it.
template <class T>
std::unique_ptr<T[]> untouched(size_t count) {
  return std::make_unique_for_overwrite<T[]>(count);
}

struct Keyed {
  uint64_t key;
  uint32_t point;
};

// Points in the order part, curve, position; coincident points of a part become neighbours in the list.
std::vector<Keyed> curveOrder(const TriangleSoup& soup, const Box& bounds) {
  const Vec3 extent = (bounds.high - bounds.low).cwiseMax(Vec3::Constant(1e-30f));
  const float scale = 65535.f / extent.maxCoeff();
  std::vector<Keyed> order(soup.positions.size());
  parallel(
      (order.size() + kLanes - 1) / kLanes,
      [&](size_t stretch) {
        const size_t first = stretch * kLanes, count = std::min(kLanes, order.size() - first);
        Lanes x{}, y{}, z{};
        for (size_t k = 0; k < count; ++k) {
          const Vec3 g = (soup.positions[first + k] - bounds.low) * scale;
          const auto cell = [](float f) { return static_cast<uint32_t>(std::clamp(f, 0.f, 65535.f)); };
          x[k] = cell(g.x());
          y[k] = cell(g.y());
          z[k] = cell(g.z());
        }
        alongCurve(x, y, z);
        for (size_t k = 0; k < count; ++k) {
          const uint64_t part = std::min<uint32_t>(soup.parts[first + k], 65535);
          order[first + k] = {part << 48 | interleaved(x[k], y[k], z[k]), static_cast<uint32_t>(first + k)};
        }
      },
      512);
  tbb::parallel_sort(order.begin(), order.end(), [&](const Keyed& a, const Keyed& b) {
    if (a.key != b.key) return a.key < b.key;
    const Vec3 &p = soup.positions[a.point], &q = soup.positions[b.point];
    if (p.x() != q.x()) return p.x() < q.x();
    if (p.y() != q.y()) return p.y() < q.y();
    if (p.z() != q.z()) return p.z() < q.z();
    return a.point < b.point;
  });
  return order;
}

void takeSamples(const TriangleSoup& soup, Surface& out, std::vector<uint32_t>& sampleOf) {
  for (const Vec3& p : soup.positions) out.bounds.add(p);
  const std::vector<Keyed> order = curveOrder(soup, out.bounds);
  // the number of the sample each place of the order falls to: one more wherever the place is a new one
  std::vector<uint32_t> number(order.size());
  parallel(order.size(), [&](size_t i) {
    number[i] = i > 0 && !(order[i].key == order[i - 1].key &&
                           soup.positions[order[i].point] == soup.positions[order[i - 1].point]);
  });
  std::partial_sum(number.begin(), number.end(), number.begin());
  const size_t samples = order.empty() ? 0 : number.back() + 1;
  // Embree reads 16 bytes at every position; room behind the last one makes that safe.
  out.positions.reserve(samples + 2);
  out.positions.resize(samples);
  out.parts.resize(samples);
  sampleOf.resize(order.size());
  parallel(order.size(), [&](size_t i) {
    const uint32_t point = order[i].point, s = number[i];
    sampleOf[point] = s;
    if (i > 0 && number[i - 1] == s) return;
    out.positions[s] = soup.positions[point];
    out.parts[s] = soup.parts[point];
  });
}

// Calls `work(begin, end)` for stretches of samples side by side. Each looks at all triangles and takes what
// falls to its own samples, in their order: the outcome is that of one core.
template <class Work>
void byStretches(size_t samples, Work&& work) {
  const auto cores = static_cast<size_t>(tbb::this_task_arena::max_concurrency());
  const size_t count = std::clamp<size_t>(samples / 65536, 1, std::min<size_t>(cores, 8));
  parallel(
      count, [&](size_t k) { work(samples * k / count, samples * (k + 1) / count); }, 1);
}

// Triangles by their lowest sample (a counting sort), so that rays and painting walk memory forward.
void takeTriangles(TriangleSoup& soup, const std::vector<uint32_t>& sampleOf, Surface& out,
                   std::vector<uint32_t>* soupTriangle) {
  const size_t count = soup.triangles.size();
  const auto lowest = untouched<uint32_t>(count);  // kNone: two corners coincide
  parallel(count, [&](size_t i) {
    Triangle& t = soup.triangles[i];
    for (uint32_t& corner : t) corner = sampleOf[corner];
    lowest[i] = t[0] == t[1] || t[1] == t[2] || t[2] == t[0] ? kNone : std::min({t[0], t[1], t[2]});
  });
  std::vector<uint32_t> start(out.size() + 1, 0);
  byStretches(out.size(), [&](size_t begin, size_t end) {
    for (const uint32_t s : std::span(lowest.get(), count))
      if (s >= begin && s < end) ++start[s + 1];
  });
  for (size_t s = 0; s < out.size(); ++s) start[s + 1] += start[s];
  out.triangles.resize(start.back());
  out.triangleParts.resize(start.back());
  if (soupTriangle) soupTriangle->resize(start.back());
  byStretches(out.size(), [&](size_t begin, size_t end) {
    for (size_t i = 0; i < count; ++i) {
      const uint32_t s = lowest[i];
      if (s < begin || s >= end) continue;
      const uint32_t at = start[s]++;
      out.triangles[at] = soup.triangles[i];
      out.triangleParts[at] = soup.triangleParts[i];
      if (soupTriangle) (*soupTriangle)[at] = static_cast<uint32_t>(i);
    }
  });
}

void sortFew(uint32_t* begin, uint32_t* end) {
  if (end - begin > 16) return std::sort(begin, end);
  for (uint32_t* next = begin; next != end; ++next) {
    const uint32_t v = *next;
    uint32_t* at = next;
    for (; at != begin && at[-1] > v; --at) *at = at[-1];
    *at = v;
  }
}

// Whether every one of `few` is in `list`, asked without branches that nobody could foresee.
bool holdsAll(std::span<const uint32_t> list, std::span<const uint32_t> few) {
  bool all = true;
  for (const uint32_t v : few) {
    bool found = false;
    for (const uint32_t l : list) found |= l == v;
    all &= found;
  }
  return all;
}

// Sorts what the corners after a sample are and, behind them, those before it, and leaves each once; gives
// how many. Where the skin is closed both are the same, and half of the work is enough.
uint32_t once(uint32_t* after, uint32_t* before, uint32_t* end) {
  sortFew(after, before);
  if (before - after > 16 || !holdsAll({after, before}, {before, end})) {
    sortFew(before, end);
    std::inplace_merge(after, before, end);
    before = end;
  }
  return static_cast<uint32_t>(std::unique(after, before) - after);
}

void joinNeighbors(Surface& out) {
  std::vector<uint32_t> start(out.size() + 1, 0);
  byStretches(out.size(), [&](size_t begin, size_t end) {
    for (const Triangle& t : out.triangles)
      for (const uint32_t s : t)
        if (s >= begin && s < end) start[s + 1] += 2;
  });
  for (size_t s = 0; s < out.size(); ++s) start[s + 1] += start[s];
  const auto loose = untouched<uint32_t>(start.back());
  std::vector<uint32_t> cursor(start.begin(), start.end() - 1);
  const auto middle = [&](size_t s) { return (start[s + 1] - start[s]) / 2; };
  byStretches(out.size(), [&](size_t begin, size_t end) {
    for (const Triangle& t : out.triangles)
      for (size_t i = 0; i < 3; ++i) {
        const uint32_t s = t[i];
        if (s < begin || s >= end) continue;
        const uint32_t at = cursor[s]++;
        loose[at] = t[(i + 1) % 3];
        loose[at + middle(s)] = t[(i + 2) % 3];
      }
  });
  std::vector<uint32_t> kept(out.size());
  parallel(out.size(), [&](size_t s) {
    uint32_t* const first = loose.get() + start[s];
    kept[s] = once(first, first + middle(s), loose.get() + start[s + 1]);
  });
  out.neighborStart.assign(out.size() + 1, 0);
  for (size_t s = 0; s < out.size(); ++s) out.neighborStart[s + 1] = out.neighborStart[s] + kept[s];
  out.neighbors.resize(out.neighborStart.back());
  parallel(out.size(), [&](size_t s) {
    std::copy_n(loose.get() + start[s], kept[s], out.neighbors.begin() + out.neighborStart[s]);
  });
}

// The mean edge length, added up in an order that does not depend on the threads.
float spacingOf(const Surface& s) {
  if (s.triangles.empty()) return 0;
  constexpr size_t kStretch = 65536;
  std::vector<double> lengths((s.triangles.size() + kStretch - 1) / kStretch, 0);
  parallel(
      lengths.size(),
      [&](size_t k) {
        for (size_t t = k * kStretch; t < std::min(s.triangles.size(), (k + 1) * kStretch); ++t)
          for (size_t i = 0; i < 3; ++i)
            lengths[k] += (s.positions[s.triangles[t][(i + 1) % 3]] - s.positions[s.triangles[t][i]])
                              .cast<double>()
                              .norm();
      },
      1);
  const double sum = std::accumulate(lengths.begin(), lengths.end(), 0.0);
  return static_cast<float>(sum / (3.0 * static_cast<double>(s.triangles.size())));
}

void measure(Surface& out) {
  out.areas.assign(out.size(), 0.f);
  out.normals.resize(out.size());
  byStretches(out.size(), [&](size_t begin, size_t end) {
    std::vector<Eigen::Vector3d> normals(end - begin, Eigen::Vector3d::Zero());
    for (const Triangle& t : out.triangles) {
      const auto mine = [&](uint32_t s) { return s >= begin && s < end; };
      if (!mine(t[0]) && !mine(t[1]) && !mine(t[2])) continue;
      const Eigen::Vector3d a = out.positions[t[0]].cast<double>(), b = out.positions[t[1]].cast<double>(),
                            c = out.positions[t[2]].cast<double>();
      const Eigen::Vector3d twice = (b - a).cross(c - a);
      const auto third = static_cast<float>(twice.norm() / 6);
      for (const uint32_t s : t)
        if (mine(s)) {
          normals[s - begin] += twice;
          out.areas[s] += third;
        }
    }
    for (size_t s = begin; s < end; ++s) {
      const double n = normals[s - begin].norm();
      out.normals[s] = n > 0 ? Vec3((normals[s - begin] / n).cast<float>()) : Vec3(0, 0, 1);
    }
  });
  out.spacing = spacingOf(out);
  out.blocks.assign((out.size() + kBlockSize - 1) / kBlockSize, {});
  for (size_t s = 0; s < out.size(); ++s) out.blocks[s / kBlockSize].add(out.positions[s]);
  out.groups.assign((out.blocks.size() + 15) / 16, {});
  for (size_t b = 0; b < out.blocks.size(); ++b) {
    out.groups[b / 16].add(out.blocks[b].low);
    out.groups[b / 16].add(out.blocks[b].high);
  }
}

}  // namespace

size_t bytesOf(const Surface& s) {
  return s.size() * (2 * sizeof(Vec3) + sizeof(float) + 2 * sizeof(uint32_t)) +
         (s.neighbors.size() + s.triangleParts.size() + s.sampleOfVertex.size()) * sizeof(uint32_t) +
         s.triangles.size() * sizeof(Triangle) + (s.blocks.size() + s.groups.size()) * sizeof(Box);
}

Surface surfaceOf(TriangleSoup soup, std::vector<uint32_t>& sampleOf, std::vector<uint32_t>* soupTriangle) {
  Surface out;
  takeSamples(soup, out, sampleOf);
  takeTriangles(soup, sampleOf, out, soupTriangle);
  soup = {};  // its memory is wanted now
  joinNeighbors(out);
  measure(out);
  return out;
}

namespace {

bool cutPolygons(const Sculpt& sculpt, TriangleSoup& soup, const Progress& progress) {
  soup.triangles.resize(triangleCount(sculpt));
  soup.triangleParts.resize(soup.triangles.size());
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle& places) {
    const auto polygon = sculpt.polygon(p);
    soup.triangles[t] = {polygon[places[0]], polygon[places[1]], polygon[places[2]]};
    soup.triangleParts[t] = sculpt.polygonPart[p];
  });
  return report(progress, 0.3f);
}

// Shading normals of the file where it has them. They must not turn the skin inside out.
void takeNormals(const Sculpt& sculpt, const std::vector<uint32_t>& sampleOf, Surface& out) {
  if (sculpt.normals.empty()) return;
  std::vector<Vec3> sums(out.size(), Vec3::Zero());
  for (size_t v = 0; v < sculpt.normals.size(); ++v) sums[sampleOf[v]] += sculpt.normals[v];
  parallel(out.size(), [&](size_t s) {
    const Vec3 n = normalizedOr(sums[s], out.normals[s]);
    if (n.dot(out.normals[s]) > 0) out.normals[s] = n;
  });
}

}  // namespace

std::shared_ptr<const Surface> elsewhere(const Surface& surface, std::vector<Vec3> positions) {
  auto out = std::make_shared<Surface>(surface);
  out->positions = std::move(positions);
  out->bounds = {};
  for (const Vec3& p : out->positions) out->bounds.add(p);
  measure(*out);
  return out;
}

Result<std::shared_ptr<const Surface>> buildSurface(const Sculpt& sculpt, const Progress& progress,
                                                    std::vector<uint32_t>* sculptTriangle) {
  TriangleSoup soup;
  soup.positions = sculpt.vertices;
  for (Vec3& p : soup.positions) p += Vec3::Zero();  // -0 and 0 are one place
  soup.parts = partOfVertices(sculpt);
  if (!cutPolygons(sculpt, soup, progress)) return cancelledError();
  auto surface = std::make_shared<Surface>();
  std::vector<uint32_t> sampleOf;
  *surface = surfaceOf(std::move(soup), sampleOf, sculptTriangle);
  if (!report(progress, 1.f)) return cancelledError();
  takeNormals(sculpt, sampleOf, *surface);
  surface->sampleOfVertex = std::move(sampleOf);
  surface->partCount = static_cast<uint32_t>(sculpt.parts.size());
  return std::shared_ptr<const Surface>(std::move(surface));
}

}  // namespace juvenor
