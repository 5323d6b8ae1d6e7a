#include "core/surface/graph/graph_piece.h"

#include "core/parallel.h"

namespace juvenor {

std::vector<uint32_t> numbersOf(std::span<const uint32_t> nodes, size_t size) {
  std::vector<uint32_t> out(size, kNone);
  parallel(nodes.size(), [&](size_t i) { out[nodes[i]] = static_cast<uint32_t>(i); });
  return out;
}

SkinGraph pieceOf(const SkinGraph& whole, std::span<const uint32_t> nodes,
                  std::span<const uint32_t> numbers) {
  SkinGraph out;
  out.positions.resize(nodes.size());
  out.areas.resize(nodes.size());
  out.start.assign(nodes.size() + 1, 0);
  parallel(nodes.size(), [&](size_t i) {
    const uint32_t n = nodes[i];
    out.positions[i] = whole.positions[n];
    out.areas[i] = whole.areas[n];
    for (uint32_t e = whole.start[n]; e < whole.start[n + 1]; ++e)
      out.start[i + 1] += numbers[whole.neighbors[e]] != kNone;
  });
  for (size_t i = 0; i < nodes.size(); ++i) out.start[i + 1] += out.start[i];
  out.neighbors.resize(out.start.back());
  out.weights.resize(out.start.back());
  parallel(nodes.size(), [&](size_t i) {
    uint32_t to = out.start[i];
    for (uint32_t e = whole.start[nodes[i]]; e < whole.start[nodes[i] + 1]; ++e) {
      const uint32_t number = numbers[whole.neighbors[e]];
      if (number == kNone) continue;
      out.neighbors[to] = number;
      out.weights[to++] = whole.weights[e];
    }
  });
  return out;
}

}  // namespace juvenor
