// From a sculpt to samples. The space-filling curve is Hilbert's, by John Skilling, "Programming the Hilbert
// curve", AIP Conference Proceedings 707, 2004.
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/surface/surface.h"

namespace juvenor {

uint64_t hilbertIndex(uint32_t x, uint32_t y, uint32_t z) {
  constexpr int kBits = 16;
  std::array<uint32_t, 3> v{x, y, z};
  for (uint32_t q = 1u << (kBits - 1); q > 1; q >>= 1) {
    const uint32_t p = q - 1;
    for (uint32_t& axis : v) {
      if (axis & q) {
        v[0] ^= p;
      } else {
        const uint32_t t = (v[0] ^ axis) & p;
        v[0] ^= t;
        axis ^= t;
      }
    }
  }
  v[1] ^= v[0];
  v[2] ^= v[1];
  uint32_t t = 0;
  for (uint32_t q = 1u << (kBits - 1); q > 1; q >>= 1)
    if (v[2] & q) t ^= q - 1;
  for (uint32_t& axis : v) axis ^= t;
  uint64_t index = 0;
  for (int bit = kBits - 1; bit >= 0; --bit)
    for (const uint32_t axis : v) index = (index << 1) | ((axis >> bit) & 1);
  return index;
}

namespace {

struct Keyed {
  uint64_t key;
  uint32_t point;
};

// Points in the order part, curve, position; coincident points of a part become neighbours in the list.
std::vector<Keyed> curveOrder(const TriangleSoup& soup, const Box& bounds) {
  const Vec3 extent = (bounds.high - bounds.low).cwiseMax(Vec3::Constant(1e-30f));
  const float scale = 65535.f / extent.maxCoeff();
  std::vector<Keyed> order(soup.positions.size());
  parallel(order.size(), [&](size_t i) {
    const Vec3 g = (soup.positions[i] - bounds.low) * scale;
    const auto cell = [](float f) { return static_cast<uint32_t>(std::clamp(f, 0.f, 65535.f)); };
    const uint64_t part = std::min<uint32_t>(soup.parts[i], 65535);
    order[i] = {part << 48 | hilbertIndex(cell(g.x()), cell(g.y()), cell(g.z())), static_cast<uint32_t>(i)};
  });
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
  sampleOf.resize(order.size());
  for (size_t i = 0; i < order.size(); ++i) {
    const uint32_t point = order[i].point;
    const bool same = i > 0 && order[i].key == order[i - 1].key &&
                      soup.positions[point] == soup.positions[order[i - 1].point];
    if (!same) {
      out.positions.push_back(soup.positions[point]);
      out.parts.push_back(soup.parts[point]);
    }
    sampleOf[point] = static_cast<uint32_t>(out.positions.size() - 1);
  }
}

// Triangles by their lowest sample (a counting sort), so that rays and painting walk memory forward.
void takeTriangles(const TriangleSoup& soup, const std::vector<uint32_t>& sampleOf, Surface& out) {
  const auto mapped = [&](size_t i) {
    const Triangle& t = soup.triangles[i];
    return Triangle{sampleOf[t[0]], sampleOf[t[1]], sampleOf[t[2]]};
  };
  const auto degenerate = [](const Triangle& t) { return t[0] == t[1] || t[1] == t[2] || t[2] == t[0]; };
  std::vector<uint32_t> start(out.size() + 1, 0);
  for (size_t i = 0; i < soup.triangles.size(); ++i) {
    const Triangle t = mapped(i);
    if (!degenerate(t)) ++start[std::min({t[0], t[1], t[2]}) + 1];
  }
  for (size_t s = 0; s < out.size(); ++s) start[s + 1] += start[s];
  out.triangles.resize(start.back());
  out.triangleParts.resize(start.back());
  for (size_t i = 0; i < soup.triangles.size(); ++i) {
    const Triangle t = mapped(i);
    if (degenerate(t)) continue;
    const uint32_t at = start[std::min({t[0], t[1], t[2]})]++;
    out.triangles[at] = t;
    out.triangleParts[at] = soup.triangleParts[i];
  }
}

void joinNeighbors(Surface& out) {
  std::vector<uint32_t> start(out.size() + 1, 0);
  for (const Triangle& t : out.triangles)
    for (const uint32_t s : t) start[s + 1] += 2;
  for (size_t s = 0; s < out.size(); ++s) start[s + 1] += start[s];
  std::vector<uint32_t> loose(start.back());
  std::vector<uint32_t> cursor(start.begin(), start.end() - 1);
  for (const Triangle& t : out.triangles)
    for (int i = 0; i < 3; ++i) {
      loose[cursor[t[i]]++] = t[(i + 1) % 3];
      loose[cursor[t[i]]++] = t[(i + 2) % 3];
    }
  std::vector<uint32_t> kept(out.size());
  parallel(out.size(), [&](size_t s) {
    const auto from = loose.begin() + start[s], to = loose.begin() + start[s + 1];
    std::sort(from, to);
    kept[s] = static_cast<uint32_t>(std::unique(from, to) - from);
  });
  out.neighborStart.assign(out.size() + 1, 0);
  for (size_t s = 0; s < out.size(); ++s) out.neighborStart[s + 1] = out.neighborStart[s] + kept[s];
  out.neighbors.resize(out.neighborStart.back());
  parallel(out.size(), [&](size_t s) {
    std::copy_n(loose.begin() + start[s], kept[s], out.neighbors.begin() + out.neighborStart[s]);
  });
}

void measure(Surface& out) {
  std::vector<Eigen::Vector3d> normals(out.size(), Eigen::Vector3d::Zero());
  out.areas.assign(out.size(), 0.f);
  double length = 0;
  for (const Triangle& t : out.triangles) {
    const Eigen::Vector3d a = out.positions[t[0]].cast<double>(), b = out.positions[t[1]].cast<double>(),
                          c = out.positions[t[2]].cast<double>();
    const Eigen::Vector3d twice = (b - a).cross(c - a);
    const auto third = static_cast<float>(twice.norm() / 6);
    for (const uint32_t s : t) {
      normals[s] += twice;
      out.areas[s] += third;
    }
    length += (b - a).norm() + (c - b).norm() + (a - c).norm();
  }
  // Embree reads 16 bytes at every position; room behind the last one makes that safe.
  out.positions.reserve(out.size() + 2);
  out.normals.resize(out.size());
  parallel(out.size(), [&](size_t s) {
    const double n = normals[s].norm();
    out.normals[s] = n > 0 ? Vec3((normals[s] / n).cast<float>()) : Vec3(0, 0, 1);
  });
  out.spacing = out.triangles.empty()
                    ? 0
                    : static_cast<float>(length / (3.0 * static_cast<double>(out.triangles.size())));
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

Surface surfaceOf(const TriangleSoup& soup, std::vector<uint32_t>& sampleOf) {
  Surface out;
  takeSamples(soup, out, sampleOf);
  takeTriangles(soup, sampleOf, out);
  joinNeighbors(out);
  measure(out);
  return out;
}

namespace {

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

Result<std::shared_ptr<const Surface>> buildSurface(const Sculpt& sculpt, const Progress& progress) {
  TriangleSoup soup;
  soup.positions = sculpt.vertices;
  for (Vec3& p : soup.positions) p += Vec3::Zero();  // -0 and 0 are one place
  soup.parts = partOfVertices(sculpt);
  std::vector<Triangle> cut;
  soup.triangles.reserve(sculpt.corners.size() - 2 * sculpt.polygonCount());
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    const auto polygon = sculpt.polygon(p);
    cut.clear();
    triangulate(sculpt.vertices, polygon, cut);
    for (const Triangle& t : cut) {
      soup.triangles.push_back({polygon[t[0]], polygon[t[1]], polygon[t[2]]});
      soup.triangleParts.push_back(sculpt.polygonPart[p]);
    }
    if (p % 262144 == 0 &&
        !report(progress, 0.3f * static_cast<float>(p) / static_cast<float>(sculpt.polygonCount())))
      return cancelledError();
  }
  auto surface = std::make_shared<Surface>();
  std::vector<uint32_t> sampleOf;
  *surface = surfaceOf(soup, sampleOf);
  if (!report(progress, 1.f)) return cancelledError();
  takeNormals(sculpt, sampleOf, *surface);
  surface->sampleOfVertex = std::move(sampleOf);
  surface->partCount = static_cast<uint32_t>(sculpt.parts.size());
  return std::shared_ptr<const Surface>(std::move(surface));
}

}  // namespace juvenor
