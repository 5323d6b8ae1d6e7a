#include "core/surface/build/refine.h"

#include <fmt/format.h>

#include <tbb/parallel_sort.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/cell_members.h"
#include "core/parallel.h"
#include "core/surface/build/refine_where.h"

namespace juvenor {
namespace {

using Edge = std::pair<uint32_t, uint32_t>;

Edge edgeOf(uint32_t a, uint32_t b) {
  return a < b ? Edge{a, b} : Edge{b, a};
}

// The point halfway between two, as a mix of samples of the first surface. Both ends lie in one of its
// triangles, so at most three samples take part.
Origin halfway(const Origin& a, const Origin& b) {
  Origin out;
  size_t used = 0;
  const auto add = [&](uint32_t sample, float weight) {
    if (weight == 0) return;
    for (size_t i = 0; i < used; ++i)
      if (out.sample[i] == sample) {
        out.weight[i] += weight;
        return;
      }
    if (used < 3) {
      out.sample[used] = sample;
      out.weight[used++] = weight;
    }
  };
  for (int i = 0; i < 3; ++i) add(a.sample[i], a.weight[i] / 2);
  for (int i = 0; i < 3; ++i) add(b.sample[i], b.weight[i] / 2);
  return out;
}

struct Growing {
  TriangleSoup soup;
  std::vector<Origin> origins;
  std::vector<uint32_t> parents;             // of each triangle: the one of the first surface
  std::vector<std::array<Vec3, 3>> normals;  // at the corners of each triangle; empty: flat
  std::vector<float> spacings;               // wanted around each sample; empty: everywhere the same

  bool round() const { return !normals.empty(); }
};

Vec3 faceNormal(const std::vector<Vec3>& p, const Triangle& t) {
  return normalizedOr((p[t[1]] - p[t[0]]).cross(p[t[2]] - p[t[0]]), Vec3::Zero());
}

// Which triangles lie around each sample.
CellMembers trianglesAround(const Surface& s) {
  std::vector<uint32_t> sampleOf;
  sampleOf.reserve(3 * s.triangles.size());
  for (const Triangle& t : s.triangles) sampleOf.insert(sampleOf.end(), t.begin(), t.end());
  return CellMembers(sampleOf, s.size());  // of corners: three a triangle
}

// The surface's own normal at a corner, or where faces around it part by more than the crease the mean of
// those that go along with this one.
std::vector<std::array<Vec3, 3>> cornerNormals(const Surface& s, float crease) {
  const float least = std::cos(crease * std::numbers::pi_v<float> / 180);
  std::vector<Vec3> faces(s.triangles.size());
  parallel(faces.size(), [&](size_t t) { faces[t] = faceNormal(s.positions, s.triangles[t]); });
  const CellMembers around = trianglesAround(s);
  std::vector<std::array<Vec3, 3>> out(s.triangles.size());
  parallel(out.size(), [&](size_t t) {
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t sample = s.triangles[t][k];
      Vec3 sum = Vec3::Zero();
      bool all = true;
      for (const uint32_t corner : around.of(sample)) {
        const size_t other = corner / 3;
        const bool along = faces[other].dot(faces[t]) >= least || faces[other].isZero() || faces[t].isZero();
        all &= along;
        if (along) {
          const Triangle& o = s.triangles[other];
          sum += (s.positions[o[1]] - s.positions[o[0]]).cross(s.positions[o[2]] - s.positions[o[0]]);
        }
      }
      out[t][k] = all ? s.normals[sample] : normalizedOr(sum, s.normals[sample]);
    }
  });
  return out;
}

Growing start(const Surface& s, const Refinement& refinement) {
  Growing g{{s.positions, s.parts, s.triangles, s.triangleParts},
            std::vector<Origin>(s.size()),
            std::vector<uint32_t>(s.triangles.size()),
            {},
            {}};
  std::iota(g.parents.begin(), g.parents.end(), 0u);
  for (uint32_t i = 0; i < s.size(); ++i) g.origins[i] = {{i, i, i}, {1, 0, 0}};
  if (refinement.shape == RefineShape::Round) g.normals = cornerNormals(s, refinement.crease);
  return g;
}

// The edges a rule wants cut, sorted, each once.
template <class Rule>
std::vector<Edge> edgesToCut(const TriangleSoup& soup, Rule cut) {
  std::vector<Edge> edges;
  for (const Triangle& t : soup.triangles)
    for (int i = 0; i < 3; ++i) {
      const Edge e = edgeOf(t[i], t[(i + 1) % 3]);
      if (cut(e)) edges.push_back(e);
    }
  tbb::parallel_sort(edges.begin(), edges.end());
  edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
  return edges;
}

// The middle of a curved edge of a PN triangle, and its normal there.
Vec3 curvedMiddle(const Vec3& a, const Vec3& b, const Vec3& na, const Vec3& nb) {
  const Vec3 way = b - a;
  return 0.5f * (a + b) - (way.dot(na) * na - way.dot(nb) * nb) / 8;
}

Vec3 middleNormal(const Vec3& a, const Vec3& b, const Vec3& na, const Vec3& nb) {
  const Vec3 way = b - a, sum = na + nb;
  const float length2 = way.squaredNorm();
  const Vec3 mirrored = length2 > 0 ? Vec3(sum - 2 * way.dot(sum) / length2 * way) : sum;
  return normalizedOr(sum + 2 * normalizedOr(mirrored, na), na);
}

// A triangle of the new mesh by its corners: below 3 those of the old one, 3 + i the middle of its edge i.
using Cut = std::array<int, 3>;

struct Cuts {
  std::array<Cut, 4> cuts{};
  size_t count = 0;

  Cuts(std::initializer_list<Cut> list) : count(list.size()) { std::ranges::copy(list, cuts.begin()); }
  const Cut* begin() const { return cuts.data(); }
  const Cut* end() const { return cuts.data() + count; }
};

// How a triangle whose edges i → i+1 have the midpoints `mid[i]` (kNone where uncut) is cut; up to four.
Cuts cutsOf(const std::vector<Vec3>& p, const Triangle& t, const std::array<uint32_t, 3>& mid) {
  const int cuts = (mid[0] != kNone) + (mid[1] != kNone) + (mid[2] != kNone);
  if (cuts == 0) return {Cut{0, 1, 2}};
  if (cuts == 3) return {{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {3, 4, 5}};
  if (cuts == 1) {
    const int i = mid[0] != kNone ? 0 : mid[1] != kNone ? 1 : 2;
    const int a = i, b = (i + 1) % 3, c = (i + 2) % 3, m = 3 + i;
    return {{a, m, c}, {m, b, c}};
  }
  const int i = mid[0] == kNone ? 0 : mid[1] == kNone ? 1 : 2;  // the uncut edge a-b
  const int a = i, b = (i + 1) % 3, c = (i + 2) % 3, bc = 3 + b, ca = 3 + c;
  // the quad a b bc ca takes its shorter diagonal
  const float first = (p[t[a]] - p[mid[b]]).squaredNorm(), second = (p[t[b]] - p[mid[c]]).squaredNorm();
  if (first <= second) return {{ca, bc, c}, {a, b, bc}, {a, bc, ca}};
  return {{ca, bc, c}, {a, b, ca}, {b, bc, ca}};
}

// Where each cut edge has its new point: the middle, or the mean of what the triangles on its sides make of
// it.
std::vector<Vec3> middles(const Growing& g, const std::vector<Edge>& edges,
                          const std::vector<std::array<uint32_t, 3>>& mid, uint32_t first) {
  const auto& p = g.soup.positions;
  std::vector<Vec3> out(edges.size(), Vec3::Zero());
  if (!g.round()) {
    parallel(edges.size(), [&](size_t e) { out[e] = 0.5f * (p[edges[e].first] + p[edges[e].second]); });
    return out;
  }
  std::vector<float> sides(edges.size(), 0);
  for (size_t t = 0; t < g.soup.triangles.size(); ++t)
    for (size_t i = 0; i < 3; ++i) {
      if (mid[t][i] == kNone) continue;
      const size_t j = (i + 1) % 3, e = mid[t][i] - first;
      const Triangle& v = g.soup.triangles[t];
      out[e] += curvedMiddle(p[v[i]], p[v[j]], g.normals[t][i], g.normals[t][j]);
      ++sides[e];
    }
  for (size_t e = 0; e < out.size(); ++e) out[e] /= sides[e];
  return out;
}

void cutEdges(Growing& g, const std::vector<Edge>& edges) {
  TriangleSoup& soup = g.soup;
  const auto first = static_cast<uint32_t>(soup.positions.size());
  // most ends of edges are those of none that is cut, where points are added in places
  std::vector<char> ends(first, 0);
  for (const auto& [a, b] : edges) ends[a] = ends[b] = 1;
  const auto middle = [&](uint32_t a, uint32_t b) {
    if (!ends[a] || !ends[b]) return kNone;
    const Edge e = edgeOf(a, b);
    const auto found = std::lower_bound(edges.begin(), edges.end(), e);
    return found != edges.end() && *found == e ? first + static_cast<uint32_t>(found - edges.begin()) : kNone;
  };
  std::vector<std::array<uint32_t, 3>> mid(soup.triangles.size());
  parallel(mid.size(), [&](size_t i) {
    const Triangle& t = soup.triangles[i];
    mid[i] = {middle(t[0], t[1]), middle(t[1], t[2]), middle(t[2], t[0])};
  });
  const std::vector<Vec3> added = middles(g, edges, mid, first);
  soup.positions.insert(soup.positions.end(), added.begin(), added.end());
  for (const auto& [a, b] : edges) {
    soup.parts.push_back(soup.parts[a]);
    g.origins.push_back(halfway(g.origins[a], g.origins[b]));
    if (!g.spacings.empty()) g.spacings.push_back(0.5f * (g.spacings[a] + g.spacings[b]));
  }
  Growing next;
  const size_t room = soup.triangles.size() + 2 * edges.size();
  next.soup.triangles.reserve(room);
  next.soup.triangleParts.reserve(room);
  next.parents.reserve(room);
  if (g.round()) next.normals.reserve(room);
  for (size_t i = 0; i < soup.triangles.size(); ++i) {
    const Triangle& t = soup.triangles[i];
    if (mid[i][0] == kNone && mid[i][1] == kNone && mid[i][2] == kNone) {
      next.soup.triangles.push_back(t);
      next.soup.triangleParts.push_back(soup.triangleParts[i]);
      next.parents.push_back(g.parents[i]);
      if (g.round()) next.normals.push_back(g.normals[i]);
      continue;
    }
    const std::array<uint32_t, 6> point{t[0], t[1], t[2], mid[i][0], mid[i][1], mid[i][2]};
    std::array<Vec3, 6> normal;
    if (g.round())
      for (size_t k = 0; k < 3; ++k) {
        const size_t j = (k + 1) % 3;
        const auto& n = g.normals[i];
        normal[k] = n[k];
        normal[3 + k] = middleNormal(soup.positions[t[k]], soup.positions[t[j]], n[k], n[j]);
      }
    const Cuts cuts = cutsOf(soup.positions, t, mid[i]);
    for (const Cut& c : cuts) {
      next.soup.triangles.push_back({point[c[0]], point[c[1]], point[c[2]]});
      next.soup.triangleParts.push_back(soup.triangleParts[i]);
      next.parents.push_back(g.parents[i]);
      if (g.round()) next.normals.push_back({normal[c[0]], normal[c[1]], normal[c[2]]});
    }
  }
  soup.triangles = std::move(next.soup.triangles);
  soup.triangleParts = std::move(next.soup.triangleParts);
  g.parents = std::move(next.parents);
  g.normals = std::move(next.normals);
}

// The normals of the first surface, carried on: mixed as values are, or as the curved patches have them.
std::vector<Vec3> carriedNormals(const Surface& before, const Growing& g) {
  std::vector<Vec3> out(g.origins.size(), Vec3::Zero());
  if (g.round()) {
    const auto& p = g.soup.positions;
    for (size_t t = 0; t < g.soup.triangles.size(); ++t) {
      const Triangle& v = g.soup.triangles[t];
      const float area = (p[v[1]] - p[v[0]]).cross(p[v[2]] - p[v[0]]).norm();
      for (size_t k = 0; k < 3; ++k) out[v[k]] += area * g.normals[t][k];
    }
  } else {
    parallel(out.size(), [&](size_t i) {
      const Origin& o = g.origins[i];
      for (size_t k = 0; k < 3; ++k) out[i] += o.weight[k] * before.normals[o.sample[k]];
    });
  }
  // those that were there keep theirs
  std::ranges::copy(before.normals, out.begin());
  return out;
}

Refined finish(const Surface& before, const Growing& g) {
  std::vector<uint32_t> sampleOf;
  Refined out;
  auto surface = std::make_shared<Surface>(surfaceOf(g.soup, sampleOf, &out.parents));
  for (uint32_t& parent : out.parents) parent = g.parents[parent];
  out.origins.resize(surface->size());
  const std::vector<Vec3> normals = carriedNormals(before, g);
  // backwards, so that where points coincide the first (an original) has the last word
  for (size_t i = g.origins.size(); i-- > 0;) {
    out.origins[sampleOf[i]] = g.origins[i];
    surface->normals[sampleOf[i]] = normalizedOr(normals[i], surface->normals[sampleOf[i]]);
  }
  surface->sampleOfVertex.resize(before.sampleOfVertex.size());
  for (size_t v = 0; v < before.sampleOfVertex.size(); ++v)
    surface->sampleOfVertex[v] = sampleOf[before.sampleOfVertex[v]];
  surface->partCount = before.partCount;
  out.surface = std::move(surface);
  return out;
}

Result<Refined> splitOnce(const Surface& surface, const Refinement& refinement, size_t mostSamples,
                          const Progress& progress) {
  if (samplesAfter(surface, refinement) > mostSamples)
    return Error{fmt::format("one more split needs more than {} points", mostSamples)};
  Growing g = start(surface, refinement);
  const auto edges = edgesToCut(g.soup, [](const Edge&) { return true; });
  if (!report(progress, 0.3f)) return cancelledError();
  cutEdges(g, edges);
  if (!report(progress, 0.6f)) return cancelledError();
  return finish(surface, g);
}

constexpr std::array<std::string_view, 2> kShapes{"flat", "round"};

}  // namespace

std::string_view refineShapeKey(RefineShape shape) {
  return kShapes[static_cast<size_t>(shape)];
}

std::optional<RefineShape> refineShapeFromKey(std::string_view key) {
  const auto found = std::ranges::find(kShapes, key);
  if (found == kShapes.end()) return std::nullopt;
  return static_cast<RefineShape>(found - kShapes.begin());
}

namespace {

// Around some samples alone.
size_t samplesAfterWhere(const Surface& surface, const Refinement& refinement) {
  const auto marks = marksOf(refinement.where, surface.size());
  if (!marks) return surface.size();
  double out = 0;
  const std::vector<float> spacings = spacingsAround(surface, *marks, refinement.spacing);
  for (size_t s = 0; s < surface.size(); ++s) {
    const auto wanted = static_cast<double>(spacings[s]);
    out += std::max(1.0, 2.0 * static_cast<double>(surface.areas[s]) / (wanted * wanted));
  }
  return static_cast<size_t>(std::min(1e15, out));
}

}  // namespace

size_t samplesAfter(const Surface& surface, const Refinement& refinement) {
  if (!refinement.where.empty()) return samplesAfterWhere(surface, refinement);
  if (!(refinement.spacing > 0)) return surface.size() + surface.neighbors.size() / 2;
  // cut triangles have edges between two thirds and four thirds of the spacing; their mean area was measured
  double area = 0;
  for (const float a : surface.areas) area += static_cast<double>(a);
  const double wanted = static_cast<double>(refinement.spacing);
  return std::max(surface.size(), static_cast<size_t>(std::min(1e15, 2.0 * area / (wanted * wanted))));
}

Result<Refined> refine(const Surface& surface, const Refinement& refinement, size_t mostSamples,
                       const Progress& progress) {
  const float spacing = refinement.spacing;
  if (!(spacing >= 0) || !std::isfinite(spacing)) return Error{"the spacing must be larger than zero"};
  if (spacing == 0 && !refinement.where.empty())
    return Error{"around some points alone others are added by a distance"};
  if (spacing == 0) return splitOnce(surface, refinement, mostSamples, progress);
  const Error tooMany{fmt::format("a spacing of {:.4g} needs more than {} points; choose a larger spacing",
                                  spacing, mostSamples)};
  const auto marks = marksOf(refinement.where, surface.size());
  if (!marks) return marks.error();
  std::vector<float> spacings;
  if (!refinement.where.empty()) spacings = spacingsAround(surface, *marks, spacing);
  // a triangle of that edge has half the area its two halves of a point must cover: what cannot fit is told
  // at once
  double needed = 0;
  for (size_t s = 0; s < surface.size(); ++s) {
    const auto wanted = static_cast<double>(spacings.empty() ? spacing : spacings[s]);
    needed += static_cast<double>(surface.areas[s]) / (2 * wanted * wanted);
  }
  if (needed > static_cast<double>(mostSamples)) return tooMany;
  Growing g = start(surface, refinement);
  g.spacings = std::move(spacings);
  const auto isLong = [&](const Edge& e) {
    const float wanted = g.spacings.empty() ? spacing : 0.5f * (g.spacings[e.first] + g.spacings[e.second]);
    return (g.soup.positions[e.first] - g.soup.positions[e.second]).squaredNorm() >
           wanted * wanted * (16.f / 9);
  };
  for (int pass = 0; pass < 24; ++pass) {
    const auto edges = edgesToCut(g.soup, isLong);
    if (edges.empty()) break;
    if (g.soup.positions.size() + edges.size() > mostSamples) return tooMany;
    cutEdges(g, edges);
    if (!report(progress, static_cast<float>(pass + 1) / static_cast<float>(pass + 3)))
      return cancelledError();
  }
  return finish(surface, g);
}

}  // namespace juvenor
