#include "core/surface/graph/skin_graph.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr size_t kFewNodes = 64;

// Needles of triangles would give weights beyond what floats can add up; what flows this well is level
// anyway.
float edgeWeight(const Surface& surface, uint32_t a, uint32_t b) {
  constexpr float kMost = 8;
  return std::clamp(0.5f * cotangentsAcross(surface, a, b).sum, 0.f, kMost);
}

float ownArea(const Surface& surface, uint32_t sample) {
  const float least = 1e-6f * surface.spacing * surface.spacing + 1e-30f;
  return std::max(surface.areas[sample], least);
}

using Cell = std::array<int32_t, 3>;

Cell cellOf(const Vec3& p, const Vec3& low, float width) {
  // one far loose vertex must not take the numbers out of range
  const Vec3 g = ((p - low) / width).array().floor().min(2e9f).max(-2e9f);
  return {static_cast<int32_t>(g.x()), static_cast<int32_t>(g.y()), static_cast<int32_t>(g.z())};
}

// Numbers the pieces of nodes that share a cell and hang together; returns how many there are.
uint32_t pieces(const SkinGraph& graph, float width, std::vector<uint32_t>& piece) {
  Vec3 low = Vec3::Constant(std::numeric_limits<float>::max());
  for (const Vec3& p : graph.positions) low = low.cwiseMin(p);
  std::vector<Cell> cells(graph.size());
  parallel(graph.size(), [&](size_t i) { cells[i] = cellOf(graph.positions[i], low, width); });
  piece.assign(graph.size(), kNone);
  uint32_t count = 0;
  std::vector<uint32_t> open;
  for (uint32_t i = 0; i < graph.size(); ++i) {
    if (piece[i] != kNone) continue;
    piece[i] = count;
    open.push_back(i);
    while (!open.empty()) {
      const uint32_t n = open.back();
      open.pop_back();
      for (uint32_t e = graph.start[n]; e < graph.start[n + 1]; ++e) {
        const uint32_t m = graph.neighbors[e];
        if (piece[m] != kNone || cells[m] != cells[i]) continue;
        piece[m] = count;
        open.push_back(m);
      }
    }
    ++count;
  }
  return count;
}

struct Border {
  uint32_t to;
  Vec3 flux;  // sum over crossing edges of weight times step: the length and direction of the shared border
};

SkinGraph merged(const SkinGraph& fine, const std::vector<uint32_t>& piece, uint32_t count, float width) {
  SkinGraph out;
  out.positions.assign(count, Vec3::Zero());
  out.areas.assign(count, 0.f);
  std::vector<uint32_t> first(count + 1, 0), members(fine.size());
  for (uint32_t i = 0; i < fine.size(); ++i) {
    out.positions[piece[i]] += fine.areas[i] * fine.positions[i];
    out.areas[piece[i]] += fine.areas[i];
    ++first[piece[i] + 1];
  }
  for (uint32_t p = 0; p < count; ++p) {
    out.positions[p] /= out.areas[p];
    first[p + 1] += first[p];
  }
  std::vector<uint32_t> cursor(first.begin(), first.end() - 1);
  for (uint32_t i = 0; i < fine.size(); ++i) members[cursor[piece[i]]++] = i;
  std::vector<std::vector<Border>> borders(count);
  parallel(count, [&](size_t p) {
    for (uint32_t k = first[p]; k < first[p + 1]; ++k) {
      const uint32_t i = members[k];
      for (uint32_t e = fine.start[i]; e < fine.start[i + 1]; ++e) {
        const uint32_t j = fine.neighbors[e], q = piece[j];
        if (q == p) continue;
        const Vec3 flux = fine.weights[e] * (fine.positions[j] - fine.positions[i]);
        const auto known = std::ranges::find(borders[p], q, &Border::to);
        if (known == borders[p].end())
          borders[p].push_back({q, flux});
        else
          known->flux += flux;
      }
    }
    std::ranges::sort(borders[p], {}, &Border::to);
  });
  out.start.push_back(0);
  for (uint32_t p = 0; p < count; ++p) {
    for (const Border& b : borders[p]) {
      const Vec3 step = out.positions[b.to] - out.positions[p];
      const float length = std::max(step.norm(), 0.25f * width);
      out.neighbors.push_back(b.to);
      out.weights.push_back(std::max(0.f, b.flux.dot(step)) / (length * length));
    }
    out.start.push_back(static_cast<uint32_t>(out.neighbors.size()));
  }
  return out;
}

}  // namespace

Cotangents cotangentsAcross(const Surface& surface, uint32_t a, uint32_t b) {
  const auto left = surface.neighborsOf(a), right = surface.neighborsOf(b);
  const Vec3 &p = surface.positions[a], &q = surface.positions[b];
  Cotangents out;
  // both lists are sorted; what stands in both lies across
  for (size_t i = 0, k = 0; i < left.size() && k < right.size();) {
    if (left[i] < right[k]) {
      ++i;
    } else if (left[i] > right[k]) {
      ++k;
    } else {
      const Vec3 u = p - surface.positions[left[i]], v = q - surface.positions[left[i]];
      const float sine = u.cross(v).norm();
      if (sine > 0) out.sum += u.dot(v) / sine;
      ++out.sides;
      ++i;
      ++k;
    }
  }
  return out;
}

SkinGraph skinGraph(const Surface& surface) {
  SkinGraph out;
  out.positions = surface.positions;
  out.areas.resize(surface.size());
  out.start = surface.neighborStart;
  out.neighbors = surface.neighbors;
  out.weights.resize(out.neighbors.size());
  parallel(surface.size(), [&](size_t s) {
    const auto sample = static_cast<uint32_t>(s);
    out.areas[s] = ownArea(surface, sample);
    for (uint32_t e = out.start[s]; e < out.start[s + 1]; ++e)
      out.weights[e] = edgeWeight(surface, sample, out.neighbors[e]);
  });
  return out;
}

SkinLadder skinLadder(SkinGraph finest, float spacing) {
  SkinLadder out;
  out.graphs.push_back(std::move(finest));
  out.cells.push_back(std::max(spacing, 1e-20f));
  while (out.graphs.back().size() > kFewNodes) {
    const SkinGraph& fine = out.graphs.back();
    const float width = 2 * out.cells.back();
    std::vector<uint32_t> piece;
    const uint32_t count = pieces(fine, width, piece);
    SkinGraph coarse = merged(fine, piece, count, width);
    // loose points never join: a ladder over them would not end
    const bool useless = count * 10 > fine.size() * 9 && out.graphs.size() > 3;
    if (useless) break;
    out.coarser.push_back(std::move(piece));
    out.graphs.push_back(std::move(coarse));
    out.cells.push_back(width);
  }
  return out;
}

}  // namespace juvenor
