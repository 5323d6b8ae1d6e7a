#include "core/surface/ladder_piece.h"

#include "core/parallel.h"

namespace juvenor {
namespace {

// The nodes listed in `nodes`, numbered anew by `numberOf`.
SkinGraph pieceOf(const SkinGraph& whole, std::span<const uint32_t> nodes,
                  const std::vector<uint32_t>& numberOf, bool edges) {
  SkinGraph out;
  out.positions.resize(nodes.size());
  out.areas.resize(nodes.size());
  out.start.assign(nodes.size() + 1, 0);
  parallel(nodes.size(), [&](size_t i) {
    out.positions[i] = whole.positions[nodes[i]];
    out.areas[i] = whole.areas[nodes[i]];
  });
  if (!edges) return out;
  parallel(nodes.size(), [&](size_t i) {
    const uint32_t n = nodes[i];
    for (uint32_t e = whole.start[n]; e < whole.start[n + 1]; ++e)
      out.start[i + 1] += numberOf[whole.neighbors[e]] != kNone;
  });
  for (size_t i = 0; i < nodes.size(); ++i) out.start[i + 1] += out.start[i];
  out.neighbors.resize(out.start.back());
  out.weights.resize(out.start.back());
  parallel(nodes.size(), [&](size_t i) {
    uint32_t to = out.start[i];
    for (uint32_t e = whole.start[nodes[i]]; e < whole.start[nodes[i] + 1]; ++e) {
      const uint32_t number = numberOf[whole.neighbors[e]];
      if (number == kNone) continue;
      out.neighbors[to] = number;
      out.weights[to++] = whole.weights[e];
    }
  });
  return out;
}

}  // namespace

SkinLadder pieceOf(const SkinLadder& whole, std::span<const uint32_t> nodes, float widest) {
  SkinLadder out;
  std::vector<uint32_t> here(nodes.begin(), nodes.end()), numberOf(whole.graphs.front().size(), kNone);
  for (uint32_t i = 0; i < here.size(); ++i) numberOf[here[i]] = i;
  for (size_t k = 0;; ++k) {
    const bool last = k + 1 >= whole.graphs.size() || whole.cells[k + 1] > widest;
    out.graphs.push_back(pieceOf(whole.graphs[k], here, numberOf, k > 0 || last));
    out.cells.push_back(whole.cells[k]);
    if (last) return out;
    std::vector<uint32_t> above, numberAbove(whole.graphs[k + 1].size(), kNone);
    std::vector<uint32_t>& up = out.coarser.emplace_back(here.size());
    for (size_t i = 0; i < here.size(); ++i) {
      const uint32_t n = whole.coarser[k][here[i]];
      if (numberAbove[n] == kNone) {
        numberAbove[n] = static_cast<uint32_t>(above.size());
        above.push_back(n);
      }
      up[i] = numberAbove[n];
    }
    here = std::move(above);
    numberOf = std::move(numberAbove);
  }
}

}  // namespace juvenor
