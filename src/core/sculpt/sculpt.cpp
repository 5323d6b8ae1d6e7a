#include "core/sculpt/sculpt.h"

#include "core/sculpt/cut_large_polygon.h"

#include <fmt/format.h>

#include <cmath>

#include "core/parallel.h"

namespace juvenor {

namespace {

// Farther away than so many times its own size a sculpt is moved to the middle: floats would begin to show
// their steps.
constexpr double kFarAway = 16;

// Zero, or the middle of what `at(i)` gives for every vertex.
template <class At>
Eigen::Vector3d offsetFor(size_t count, At at) {
  Eigen::AlignedBox3d box;
  for (size_t i = 0; i < count; ++i) box.extend(Eigen::Vector3d(at(i)));
  if (box.isEmpty() || !(box.center().norm() > kFarAway * box.diagonal().norm()))
    return Eigen::Vector3d::Zero();
  // a float, so that differences of floats stay exact
  return box.center().cast<float>().cast<double>();
}

}  // namespace

void placeVertices(Sculpt& sculpt, const std::vector<Eigen::Vector3d>& positions) {
  sculpt.offset = offsetFor(positions.size(), [&](size_t i) { return positions[i]; });
  sculpt.vertices.resize(positions.size());
  parallel(positions.size(),
           [&](size_t i) { sculpt.vertices[i] = (positions[i] - sculpt.offset).cast<float>(); });
}

void placeVertices(Sculpt& sculpt) {
  const auto at = [&](size_t i) { return Eigen::Vector3d(sculpt.vertices[i].cast<double>()); };
  sculpt.offset = offsetFor(sculpt.vertices.size(), at);
  if (sculpt.offset.isZero()) return;
  for (size_t i = 0; i < sculpt.vertices.size(); ++i)
    sculpt.vertices[i] = (at(i) - sculpt.offset).cast<float>();
}

Outcome finishSculpt(Sculpt& sculpt, const std::string& where) {
  const size_t polygons = sculpt.polygonCount();
  if (sculpt.vertices.size() >= kNone || sculpt.corners.size() >= kNone)
    return Error{"holds more vertices or corners than four thousand million", where};
  if (sculpt.vertices.empty() && sculpt.remarks.empty()) return Error{"the file holds no vertices", where};
  if (polygons == 0)
    return Error{"the file holds no polygons, only points or lines; a surface is needed", where};
  for (size_t i = 0; i < sculpt.vertices.size(); ++i)
    if (!sculpt.vertices[i].allFinite())
      return Error{fmt::format("vertex {} is not a number; expected three finite coordinates", i + 1), where};
  for (size_t p = 0; p < polygons; ++p) {
    if (sculpt.polygon(p).size() < 3)
      return Error{fmt::format("polygon {} has fewer than three corners", p + 1), where};
    for (const uint32_t v : sculpt.polygon(p))
      if (v >= sculpt.vertices.size())
        return Error{fmt::format("polygon {} uses vertex {}, but the file has only {}", p + 1,
                                 uint64_t{v} + 1, sculpt.vertices.size()),
                     where};
  }
  if (sculpt.parts.empty()) sculpt.parts.push_back(sculpt.name.empty() ? "Sculpt" : sculpt.name);
  if (sculpt.polygonPart.empty()) sculpt.polygonPart.assign(polygons, 0);
  if (!sculpt.colors.empty() && sculpt.colors.size() != sculpt.vertices.size())
    return Error{fmt::format("{} colours for {} vertices; expected one each", sculpt.colors.size(),
                             sculpt.vertices.size()),
                 where};
  if (!sculpt.normals.empty() && sculpt.normals.size() != sculpt.vertices.size())
    return Error{fmt::format("{} normals for {} vertices; expected one each", sculpt.normals.size(),
                             sculpt.vertices.size()),
                 where};
  for (Vec3& n : sculpt.normals) n = n.allFinite() ? normalizedOr(n, Vec3::Zero()) : Vec3(Vec3::Zero());
  for (const UvSet& set : sculpt.uvSets)
    for (const uint32_t c : set.corner)
      if (c != kNone && c >= set.coordinates.size())
        return Error{fmt::format("a corner uses UV {}, but the file has only {}", uint64_t{c} + 1,
                                 set.coordinates.size()),
                     where};
  return Done{};
}

std::vector<uint32_t> partOfVertices(const Sculpt& sculpt) {
  if (sculpt.parts.size() <= 1) return std::vector<uint32_t>(sculpt.vertices.size(), 0);
  std::vector<uint32_t> part(sculpt.vertices.size(), kNone);
  for (size_t p = 0; p < sculpt.polygonCount(); ++p)
    for (const uint32_t v : sculpt.polygon(p))
      if (part[v] == kNone) part[v] = sculpt.polygonPart[p];
  for (uint32_t& p : part)
    if (p == kNone) p = 0;
  return part;
}

namespace {

constexpr size_t kLargePolygon = 1024;

double cross(const Eigen::Vector2d& a, const Eigen::Vector2d& b, const Eigen::Vector2d& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

// The polygon's corners in the plane of its Newell normal, counter-clockwise.
std::vector<Eigen::Vector2d> flatten(std::span<const Vec3> vertices, std::span<const uint32_t> corners) {
  Eigen::Vector3d normal = Eigen::Vector3d::Zero();
  const size_t n = corners.size();
  for (size_t i = 0; i < n; ++i) {
    const Eigen::Vector3d a = vertices[corners[i]].cast<double>(),
                          b = vertices[corners[(i + 1) % n]].cast<double>();
    // half of (a − b) × (a + b) is a × b, whose sum is twice the area vector (Newell's rule): the polygon
    // runs counterclockwise as seen from where it points
    normal += (a - b).cross(a + b) * 0.5;
  }
  if (normal.norm() == 0) normal = Eigen::Vector3d::UnitZ();
  normal.normalize();
  const Eigen::Vector3d x = normal.unitOrthogonal(), y = normal.cross(x);
  std::vector<Eigen::Vector2d> flat(n);
  for (size_t i = 0; i < n; ++i) {
    const Eigen::Vector3d v = vertices[corners[i]].cast<double>();
    flat[i] = {v.dot(x), v.dot(y)};
  }
  return flat;
}

bool isEar(const std::vector<Eigen::Vector2d>& p, const std::vector<uint32_t>& ring, size_t at) {
  const size_t n = ring.size();
  const uint32_t a = ring[(at + n - 1) % n], b = ring[at], c = ring[(at + 1) % n];
  if (cross(p[a], p[b], p[c]) <= 0) return false;
  for (const uint32_t q : ring) {
    if (q == a || q == b || q == c) continue;
    if (cross(p[a], p[b], p[q]) >= 0 && cross(p[b], p[c], p[q]) >= 0 && cross(p[c], p[a], p[q]) >= 0)
      return false;
  }
  return true;
}

}  // namespace

std::array<std::array<uint32_t, 3>, 2> halvesOfQuad(std::span<const Vec3> vertices,
                                                    std::span<const uint32_t> corners) {
  // Both halves must turn the same way; the diagonal 0–2 fails when corner 1 or 3 is the dent.
  const Vec3 &a = vertices[corners[0]], &b = vertices[corners[1]], &c = vertices[corners[2]],
             &d = vertices[corners[3]];
  const float first = (b - a).cross(c - a).dot((c - a).cross(d - a));
  if (first < 0 && (b - d).cross(a - d).dot((c - d).cross(b - d)) > first) return {{{0, 1, 3}, {1, 2, 3}}};
  return {{{0, 1, 2}, {0, 2, 3}}};
}

void triangulate(std::span<const Vec3> vertices, std::span<const uint32_t> corners,
                 std::vector<std::array<uint32_t, 3>>& out) {
  const size_t n = corners.size();
  if (n < 3) return;
  if (n == 3) {
    out.push_back({0, 1, 2});
    return;
  }
  if (n == 4) {
    const auto halves = halvesOfQuad(vertices, corners);
    out.insert(out.end(), halves.begin(), halves.end());
    return;
  }
  const std::vector<Eigen::Vector2d> flat = flatten(vertices, corners);
  // (what is smaller is cut as it always was: points that documents have added lie on these triangles)
  if (n > kLargePolygon) return cutLargePolygon(flat, out);
  std::vector<uint32_t> ring(n);
  for (uint32_t i = 0; i < n; ++i) ring[i] = i;
  while (ring.size() > 3) {
    size_t ear = 0;
    while (ear < ring.size() && !isEar(flat, ring, ear)) ++ear;
    if (ear == ring.size()) ear = 1;  // degenerate or self-crossing: any cut is as good as another
    const size_t m = ring.size();
    out.push_back({ring[(ear + m - 1) % m], ring[ear], ring[(ear + 1) % m]});
    ring.erase(ring.begin() + static_cast<std::ptrdiff_t>(ear));
  }
  out.push_back({ring[0], ring[1], ring[2]});
}

}  // namespace juvenor
