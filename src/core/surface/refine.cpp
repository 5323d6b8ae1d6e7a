#include "core/surface/refine.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

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
};

Growing start(const Surface& s) {
  Growing g{{s.positions, s.parts, s.triangles, s.triangleParts}, std::vector<Origin>(s.size())};
  for (uint32_t i = 0; i < s.size(); ++i) g.origins[i] = {{i, i, i}, {1, 0, 0}};
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
  std::sort(edges.begin(), edges.end());
  edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
  return edges;
}

// Cuts one triangle whose edges i → i+1 have the midpoints `mid[i]` (kNone where uncut).
void cutTriangle(const std::vector<Vec3>& p, const Triangle& t, const std::array<uint32_t, 3>& mid,
                 std::vector<Triangle>& out) {
  const int cuts = (mid[0] != kNone) + (mid[1] != kNone) + (mid[2] != kNone);
  if (cuts == 0) {
    out.push_back(t);
  } else if (cuts == 3) {
    out.insert(out.end(), {{t[0], mid[0], mid[2]}, {mid[0], t[1], mid[1]}, {mid[2], mid[1], t[2]}, mid});
  } else if (cuts == 1) {
    const int i = mid[0] != kNone ? 0 : mid[1] != kNone ? 1 : 2;
    const uint32_t a = t[i], b = t[(i + 1) % 3], c = t[(i + 2) % 3], m = mid[i];
    out.insert(out.end(), {{a, m, c}, {m, b, c}});
  } else {
    const int i = mid[0] == kNone ? 0 : mid[1] == kNone ? 1 : 2;  // the uncut edge a-b
    const uint32_t a = t[i], b = t[(i + 1) % 3], c = t[(i + 2) % 3], bc = mid[(i + 1) % 3],
                   ca = mid[(i + 2) % 3];
    out.push_back({ca, bc, c});
    // the quad a b bc ca takes its shorter diagonal
    if ((p[a] - p[bc]).squaredNorm() <= (p[b] - p[ca]).squaredNorm())
      out.insert(out.end(), {{a, b, bc}, {a, bc, ca}});
    else
      out.insert(out.end(), {{a, b, ca}, {b, bc, ca}});
  }
}

void cutEdges(Growing& g, const std::vector<Edge>& edges) {
  TriangleSoup& soup = g.soup;
  const auto first = static_cast<uint32_t>(soup.positions.size());
  for (const auto& [a, b] : edges) {
    soup.positions.push_back(0.5f * (soup.positions[a] + soup.positions[b]));
    soup.parts.push_back(soup.parts[a]);
    g.origins.push_back(halfway(g.origins[a], g.origins[b]));
  }
  const auto middle = [&](uint32_t a, uint32_t b) {
    const Edge e = edgeOf(a, b);
    const auto found = std::lower_bound(edges.begin(), edges.end(), e);
    return found != edges.end() && *found == e ? first + static_cast<uint32_t>(found - edges.begin()) : kNone;
  };
  std::vector<Triangle> triangles;
  std::vector<uint32_t> parts;
  triangles.reserve(soup.triangles.size() * 2);
  for (size_t i = 0; i < soup.triangles.size(); ++i) {
    const Triangle& t = soup.triangles[i];
    cutTriangle(soup.positions, t, {middle(t[0], t[1]), middle(t[1], t[2]), middle(t[2], t[0])}, triangles);
    parts.resize(triangles.size(), soup.triangleParts[i]);
  }
  soup.triangles = std::move(triangles);
  soup.triangleParts = std::move(parts);
}

Refined finish(const Surface& before, const Growing& g) {
  std::vector<uint32_t> sampleOf;
  auto surface = std::make_shared<Surface>(surfaceOf(g.soup, sampleOf));
  Refined out;
  out.origins.resize(surface->size());
  // backwards, so that where points coincide the first (an original) has the last word
  for (size_t i = g.origins.size(); i-- > 0;) out.origins[sampleOf[i]] = g.origins[i];
  surface->sampleOfVertex.resize(before.sampleOfVertex.size());
  for (size_t v = 0; v < before.sampleOfVertex.size(); ++v)
    surface->sampleOfVertex[v] = sampleOf[before.sampleOfVertex[v]];
  surface->partCount = before.partCount;
  out.surface = std::move(surface);
  return out;
}

}  // namespace

Result<Refined> refineOnce(const Surface& surface, size_t mostSamples, const Progress& progress) {
  // as many edges as half the corners at least
  const Error tooMany{fmt::format("one more split needs more than {} points", mostSamples)};
  if (surface.size() + surface.triangles.size() * 3 / 2 > mostSamples) return tooMany;
  Growing g = start(surface);
  const auto edges = edgesToCut(g.soup, [](const Edge&) { return true; });
  if (surface.size() + edges.size() > mostSamples) return tooMany;
  if (!report(progress, 0.3f)) return cancelledError();
  cutEdges(g, edges);
  if (!report(progress, 0.5f)) return cancelledError();
  return finish(surface, g);
}

Result<Refined> refineTo(const Surface& surface, float spacing, size_t mostSamples,
                         const Progress& progress) {
  if (!(spacing > 0)) return Error{"the spacing must be larger than zero"};
  const Error tooMany{fmt::format("a spacing of {:.4g} needs more than {} points; choose a larger spacing",
                                  spacing, mostSamples)};
  // a triangle of that edge has half the area its two halves of a point must cover: what cannot fit is told
  // at once
  double area = 0;
  for (const float a : surface.areas) area += static_cast<double>(a);
  if (area / (2.0 * static_cast<double>(spacing) * static_cast<double>(spacing)) >
      static_cast<double>(mostSamples))
    return tooMany;
  Growing g = start(surface);
  const float limit2 = spacing * spacing * (16.f / 9);
  for (int pass = 0; pass < 24; ++pass) {
    const auto& p = g.soup.positions;
    const auto edges =
        edgesToCut(g.soup, [&](const Edge& e) { return (p[e.first] - p[e.second]).squaredNorm() > limit2; });
    if (edges.empty()) break;
    if (p.size() + edges.size() > mostSamples) return tooMany;
    cutEdges(g, edges);
    if (!report(progress, static_cast<float>(pass + 1) / static_cast<float>(pass + 3)))
      return cancelledError();
  }
  return finish(surface, g);
}

}  // namespace juvenor
