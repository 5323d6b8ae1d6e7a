#include "core/textures/charts.h"

#include <algorithm>
#include <numeric>
#include <queue>
#include <unordered_map>

#include "core/parallel.h"

namespace juvenor {
namespace {

Vec3 middleOf(const ChartMesh& m, size_t t) {
  const Triangle& v = m.triangles[t];
  return (m.positions[v[0]] + m.positions[v[1]] + m.positions[v[2]]) / 3;
}

Vec3 normalOf(const ChartMesh& m, size_t t) {
  const Triangle& v = m.triangles[t];
  const Vec3& a = m.positions[v[0]];
  return normalizedOr((m.positions[v[1]] - a).cross(m.positions[v[2]] - a), Vec3::Zero());
}

// The two triangles of every edge that has two which walk it in opposite directions.
void joinTriangles(ChartMesh& m) {
  struct Side {
    uint32_t low, high, triangle;
    uint8_t edge;
    bool upward;
  };
  std::vector<Side> sides;
  sides.reserve(3 * m.triangles.size());
  for (uint32_t t = 0; t < m.triangles.size(); ++t)
    for (uint8_t e = 0; e < 3; ++e) {
      const uint32_t a = m.triangles[t][e], b = m.triangles[t][(e + 1u) % 3];
      sides.push_back({std::min(a, b), std::max(a, b), t, e, a < b});
    }
  std::ranges::sort(sides, [](const Side& a, const Side& b) {
    return std::tie(a.low, a.high, a.triangle) < std::tie(b.low, b.high, b.triangle);
  });
  m.across.assign(m.triangles.size(), {kNone, kNone, kNone});
  for (size_t i = 0; i < sides.size();) {
    size_t end = i;
    while (end < sides.size() && sides[end].low == sides[i].low && sides[end].high == sides[i].high) ++end;
    if (end == i + 2 && sides[i].upward != sides[i + 1].upward) {
      m.across[sides[i].triangle][sides[i].edge] = sides[i + 1].triangle;
      m.across[sides[i + 1].triangle][sides[i + 1].edge] = sides[i].triangle;
    }
    i = end;
  }
}

// How far each triangle of a piece is from some of them, and which of those is nearest.
class Spread {
 public:
  explicit Spread(const ChartMesh& mesh, std::span<const uint32_t> piece) : mesh_(mesh), piece_(piece) {
    place_.reserve(piece.size());
    for (uint32_t i = 0; i < piece.size(); ++i) place_.emplace(piece[i], i);
  }
  /// `wall`: only triangles with that label are walked; −1: all.
  void from(std::span<const uint32_t> seeds, int wall = -1) {
    const std::vector<int8_t> before = label;
    distance.assign(piece_.size(), std::numeric_limits<float>::max());
    if (wall < 0) label.assign(piece_.size(), -1);
    using Item = std::pair<float, uint32_t>;
    std::priority_queue<Item, std::vector<Item>, std::greater<>> open;
    for (size_t s = 0; s < seeds.size(); ++s) {
      distance[seeds[s]] = 0;
      if (wall < 0) label[seeds[s]] = static_cast<int8_t>(s);
      open.emplace(0.f, seeds[s]);
    }
    while (!open.empty()) {
      const auto [d, i] = open.top();
      open.pop();
      if (d > distance[i]) continue;
      for (size_t e = 0; e < 3; ++e) {
        const uint32_t next = mesh_.across[piece_[i]][e];
        if (next == kNone) continue;
        const auto at = place_.find(next);
        if (at == place_.end()) continue;
        const uint32_t j = at->second;
        if (wall >= 0 && before[j] != wall) continue;
        const float far = d + mesh_.cost[piece_[i]][e];
        if (far >= distance[j]) continue;
        distance[j] = far;
        if (wall < 0) label[j] = label[i];
        open.emplace(far, j);
      }
    }
  }
  uint32_t farthest() const {
    uint32_t best = 0;
    for (uint32_t i = 0; i < distance.size(); ++i)
      if (distance[i] < std::numeric_limits<float>::max() &&
          (distance[i] > distance[best] || distance[best] == std::numeric_limits<float>::max()))
        best = i;
    return best;
  }
  /// Places in the piece that lie along the border of a label.
  std::vector<uint32_t> rimOf(int wanted) const {
    std::vector<uint32_t> out;
    for (uint32_t i = 0; i < piece_.size(); ++i) {
      if (label[i] != wanted) continue;
      for (size_t e = 0; e < 3; ++e) {
        const uint32_t next = mesh_.across[piece_[i]][e];
        const auto at = next == kNone ? place_.end() : place_.find(next);
        if (at != place_.end() && label[at->second] == wanted) continue;
        out.push_back(i);
        break;
      }
    }
    return out;
  }

  std::vector<float> distance;
  std::vector<int8_t> label;

 private:
  const ChartMesh& mesh_;
  std::span<const uint32_t> piece_;
  std::unordered_map<uint32_t, uint32_t> place_;
};

}  // namespace

ChartMesh chartMesh(std::vector<Vec3> positions, std::vector<Triangle> triangles,
                    std::vector<uint32_t> polygon, std::span<const float> hidden) {
  ChartMesh out{std::move(positions), std::move(triangles), {}, {}, std::move(polygon)};
  joinTriangles(out);
  out.cost.resize(out.triangles.size());
  parallel(out.triangles.size(), [&](size_t t) {
    const Vec3 middle = middleOf(out, t), normal = normalOf(out, t);
    for (size_t e = 0; e < 3; ++e) {
      const uint32_t next = out.across[t][e];
      if (next == kNone) continue;
      const uint32_t a = out.triangles[t][e], b = out.triangles[t][(e + 1) % 3];
      const Vec3 edge = 0.5f * (out.positions[a] + out.positions[b]);
      const float length = (edge - middle).norm() + (middleOf(out, next) - edge).norm();
      const float bend = 0.5f * (1 - normal.dot(normalOf(out, next)));
      const float closed = hidden.empty() ? 0 : 0.5f * (hidden[a] + hidden[b]);
      out.cost[t][e] = length * (1 + 20 * bend + 3 * closed * closed) + 1e-12f;
    }
  });
  return out;
}

std::vector<std::vector<uint32_t>> connectedPieces(const ChartMesh& mesh,
                                                   std::span<const uint32_t> triangles) {
  std::unordered_map<uint32_t, bool> seen;
  seen.reserve(triangles.size());
  for (const uint32_t t : triangles) seen.emplace(t, false);
  std::vector<std::vector<uint32_t>> out;
  for (const uint32_t first : triangles) {
    if (seen[first]) continue;
    std::vector<uint32_t>& piece = out.emplace_back(1, first);
    seen[first] = true;
    for (size_t k = 0; k < piece.size(); ++k)
      for (const uint32_t next : mesh.across[piece[k]]) {
        const auto at = next == kNone ? seen.end() : seen.find(next);
        if (at == seen.end() || at->second) continue;
        at->second = true;
        piece.push_back(next);
      }
  }
  std::ranges::stable_sort(out, [](const auto& a, const auto& b) { return a.size() > b.size(); });
  return out;
}

std::array<std::vector<uint32_t>, 2> halves(const ChartMesh& mesh, std::span<const uint32_t> piece) {
  if (piece.size() < 2) return {};
  Spread spread(mesh, piece);
  std::array<uint32_t, 2> seeds{};
  spread.from(std::array<uint32_t, 1>{0});
  seeds[0] = spread.farthest();
  spread.from(std::span(seeds).first(1));
  seeds[1] = spread.farthest();
  if (seeds[0] == seeds[1]) return {};
  spread.from(seeds);
  for (int round = 0; round < 2; ++round) {
    std::array<uint32_t, 2> middles = seeds;
    for (int half = 0; half < 2; ++half) {
      const std::vector<uint32_t> rim = spread.rimOf(half);
      if (rim.empty()) continue;
      spread.from(rim, half);
      middles[static_cast<size_t>(half)] = spread.farthest();
    }
    if (middles == seeds || middles[0] == middles[1]) break;
    seeds = middles;
    spread.from(seeds);
  }
  // a polygon goes where its first triangle does
  std::unordered_map<uint32_t, size_t> side;
  std::array<std::vector<uint32_t>, 2> out;
  for (uint32_t i = 0; i < piece.size(); ++i) {
    const size_t own = spread.label[i] == 1 ? 1 : 0;
    out[side.emplace(mesh.polygon[piece[i]], own).first->second].push_back(piece[i]);
  }
  return out[0].empty() || out[1].empty() ? std::array<std::vector<uint32_t>, 2>{} : out;
}

}  // namespace juvenor
