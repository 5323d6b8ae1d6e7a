#include "core/textures/coarse_pieces.h"

#include <meshoptimizer.h>

#include <algorithm>
#include <numeric>
#include <queue>
#include <unordered_map>

#include "core/parallel.h"

namespace juvenor {
namespace {

struct CoarseMesh {
  ChartMesh mesh;
  std::vector<uint32_t> finePoint;  ///< of each of its points
};

CoarseMesh coarser(const ChartMesh& fine, std::span<const float> hidden, size_t triangles) {
  std::vector<uint32_t> corners(3 * fine.triangles.size());
  const size_t count =
      meshopt_simplify(corners.data(), fine.triangles[0].data(), corners.size(), fine.positions[0].data(),
                       fine.positions.size(), sizeof(Vec3), 3 * triangles, 1, 0, nullptr);
  CoarseMesh out;
  std::vector<uint32_t> coarsePoint(fine.positions.size(), kNone);
  std::vector<Vec3> positions;
  std::vector<Triangle> kept(count / 3);
  std::vector<float> closed;
  for (size_t c = 0; c < count; ++c) {
    uint32_t& point = coarsePoint[corners[c]];
    if (point == kNone) {
      point = static_cast<uint32_t>(positions.size());
      positions.push_back(fine.positions[corners[c]]);
      out.finePoint.push_back(corners[c]);
      if (!hidden.empty()) closed.push_back(hidden[corners[c]]);
    }
    kept[c / 3][c % 3] = point;
  }
  std::vector<uint32_t> polygon(kept.size());
  std::iota(polygon.begin(), polygon.end(), 0u);
  out.mesh = chartMesh(std::move(positions), std::move(kept), std::move(polygon), closed);
  return out;
}

float squaredDistance(const Vec3& p, const Vec3& a, const Vec3& b) {
  const Vec3 edge = b - a;
  const float t = std::clamp(edge.dot(p - a) / std::max(1e-30f, edge.squaredNorm()), 0.f, 1.f);
  return (p - a - t * edge).squaredNorm();
}

float squaredDistance(const ChartMesh& mesh, uint32_t triangle, const Vec3& p) {
  const Triangle& t = mesh.triangles[triangle];
  const Vec3 &a = mesh.positions[t[0]], &b = mesh.positions[t[1]], &c = mesh.positions[t[2]];
  const Vec3 normal = (b - a).cross(c - a);
  const auto inside = [&](const Vec3& from, const Vec3& to) {
    return normal.cross(to - from).dot(p - from) >= 0;
  };
  if (normal.squaredNorm() > 0 && inside(a, b) && inside(b, c) && inside(c, a)) {
    const float above = normal.dot(p - a);
    return above * above / normal.squaredNorm();
  }
  return std::min({squaredDistance(p, a, b), squaredDistance(p, b, c), squaredDistance(p, c, a)});
}

// What lies around each point, all in one list.
struct Around {
  std::vector<uint32_t> start, items;
  std::span<const uint32_t> of(uint32_t p) const {
    return std::span(items).subspan(start[p], start[p + 1] - start[p]);
  }
};

// Each triangle, or each corner of it but the point itself.
Around aroundPoints(const ChartMesh& mesh, bool corners) {
  Around out{std::vector<uint32_t>(mesh.positions.size() + 1, 0), {}};
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t p : t) out.start[p + 1] += corners ? 2 : 1;
  std::partial_sum(out.start.begin(), out.start.end(), out.start.begin());
  out.items.resize(out.start.back());
  std::vector<uint32_t> next(out.start.begin(), out.start.end() - 1);
  for (uint32_t t = 0; t < mesh.triangles.size(); ++t)
    for (size_t k = 0; k < 3; ++k) {
      const Triangle& v = mesh.triangles[t];
      if (!corners) out.items[next[v[k]]++] = t;
      for (size_t other = 1; corners && other < 3; ++other) out.items[next[v[k]]++] = v[(k + other) % 3];
    }
  return out;
}

// For every fine point the coarse one nearest to it along the mesh; kNone where there is none.
std::vector<uint32_t> nearestCoarse(const ChartMesh& mesh, const CoarseMesh& coarse) {
  const Around neighbors = aroundPoints(mesh, true);
  std::vector<float> distance(mesh.positions.size(), std::numeric_limits<float>::max());
  std::vector<uint32_t> out(mesh.positions.size(), kNone);
  using Item = std::pair<float, uint32_t>;
  std::priority_queue<Item, std::vector<Item>, std::greater<>> open;
  for (uint32_t c = 0; c < coarse.finePoint.size(); ++c) {
    const uint32_t p = coarse.finePoint[c];
    distance[p] = 0;
    out[p] = c;
    open.emplace(0.f, p);
  }
  while (!open.empty()) {
    const auto [d, p] = open.top();
    open.pop();
    if (d > distance[p]) continue;
    for (const uint32_t q : neighbors.of(p)) {
      const float far = d + (mesh.positions[q] - mesh.positions[p]).norm();
      if (far >= distance[q]) continue;
      distance[q] = far;
      out[q] = out[p];
      open.emplace(far, q);
    }
  }
  return out;
}

// The chart of every fine triangle: that of the coarse triangle nearest to its middle, of those around the
// coarse points nearest to its corners. A polygon goes where its first triangle does.
std::vector<uint32_t> labelsOf(const ChartMesh& mesh, const CoarseMesh& coarse,
                               std::span<const FlatChart> charts) {
  std::vector<uint32_t> chartOf(coarse.mesh.triangles.size(), kNone);
  for (uint32_t c = 0; c < charts.size(); ++c)
    for (const uint32_t t : charts[c].triangles) chartOf[t] = c;
  const std::vector<uint32_t> nearest = nearestCoarse(mesh, coarse);
  const Around fans = aroundPoints(coarse.mesh, false);
  std::vector<uint32_t> out(mesh.triangles.size(), kNone);
  parallel(out.size(), [&](size_t t) {
    const Triangle& v = mesh.triangles[t];
    const Vec3 middle = (mesh.positions[v[0]] + mesh.positions[v[1]] + mesh.positions[v[2]]) / 3;
    float least = std::numeric_limits<float>::max();
    for (const uint32_t p : v) {
      if (nearest[p] == kNone) continue;
      for (const uint32_t c : fans.of(nearest[p])) {
        const float away = squaredDistance(coarse.mesh, c, middle);
        if (away >= least) continue;
        least = away;
        out[t] = chartOf[c];
      }
    }
  });
  std::unordered_map<uint32_t, uint32_t> first;
  for (size_t t = 0; t < out.size(); ++t) out[t] = first.emplace(mesh.polygon[t], out[t]).first->second;
  return out;
}

// What hangs together of each label.
std::vector<std::vector<uint32_t>> piecesOf(const ChartMesh& mesh, std::span<const uint32_t> label) {
  std::vector<bool> seen(mesh.triangles.size(), false);
  std::vector<std::vector<uint32_t>> out;
  for (uint32_t first = 0; first < label.size(); ++first) {
    if (seen[first]) continue;
    std::vector<uint32_t>& piece = out.emplace_back(1, first);
    seen[first] = true;
    for (size_t k = 0; k < piece.size(); ++k)
      for (const uint32_t next : mesh.across[piece[k]])
        if (next != kNone && !seen[next] && label[next] == label[first]) {
          seen[next] = true;
          piece.push_back(next);
        }
  }
  return out;
}

Pieces connected(const ChartMesh& mesh) {
  const std::vector<uint32_t> one(mesh.triangles.size(), 0);
  Pieces out;
  for (auto& piece : piecesOf(mesh, one)) out.push_back({std::move(piece), nullptr});
  return out;
}

// Where the points of a chart lie, by their numbers on the fine mesh; one that lies at two places is none.
KnownPlaces placesOf(const CoarseMesh& coarse, const FlatChart& chart) {
  KnownPlaces out;
  std::unordered_map<uint32_t, bool> twice;
  for (size_t i = 0; i < chart.triangles.size(); ++i)
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t point = coarse.finePoint[coarse.mesh.triangles[chart.triangles[i]][k]];
      const auto [at, isNew] = out.emplace(point, chart.corners[i][k]);
      if (!isNew && at->second != chart.corners[i][k]) twice[point] = true;
    }
  for (const auto& [point, is] : twice) out.erase(point);
  return out;
}

// Splinters go with the neighbour they have the longest border with.
void withoutSplinters(const ChartMesh& mesh, std::vector<uint32_t>& label) {
  constexpr size_t kSplinter = 40;
  for (const std::vector<uint32_t>& piece : piecesOf(mesh, label)) {
    if (piece.size() >= kSplinter) continue;
    const std::vector<uint32_t> beside = chartsBeside(mesh, piece, label);
    if (beside.empty()) continue;
    const uint32_t into = beside.front();
    for (const uint32_t t : piece) label[t] = into;
  }
}

}  // namespace

Result<Pieces> coarsePieces(const ChartMesh& mesh, std::span<const float> hidden, size_t triangles,
                            float mostStretch, const Progress& progress) {
  if (mesh.triangles.size() <= 5 * triangles) return connected(mesh);
  const CoarseMesh coarse = coarser(mesh, hidden, triangles);
  if (!report(progress, 0.1f)) return cancelledError();
  // a little is left for the forms that are not there yet
  const float most = 1 + 0.8f * (mostStretch - 1);
  auto charts = cutFlat(coarse.mesh, connected(coarse.mesh), most,
                        [&](float f) { return report(progress, 0.1f + 0.4f * f); });
  if (!charts) return charts.error();
  charts = withSmallJoined(coarse.mesh, std::move(*charts), triangles / 20, most,
                           [&](float f) { return report(progress, 0.5f + 0.4f * f); });
  if (!charts) return charts.error();
  std::vector<uint32_t> label = labelsOf(mesh, coarse, *charts);
  withoutSplinters(mesh, label);
  std::vector<std::shared_ptr<const KnownPlaces>> known;
  for (const FlatChart& one : *charts)
    known.push_back(std::make_shared<const KnownPlaces>(placesOf(coarse, one)));
  Pieces out;
  for (auto& piece : piecesOf(mesh, label)) {
    const uint32_t of = label[piece[0]];
    out.push_back({std::move(piece), of == kNone ? nullptr : known[of]});
  }
  return out;
}

}  // namespace juvenor
