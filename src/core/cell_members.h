// Which places belong to each node of a coarser graph.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace juvenor {

class CellMembers {
 public:
  CellMembers() = default;
  /// `nodeOf`: the node over each place, below `nodes`.
  CellMembers(std::span<const uint32_t> nodeOf, size_t nodes) : start_(nodes + 1, 0), places_(nodeOf.size()) {
    for (const uint32_t n : nodeOf) ++start_[n + 1];
    for (size_t n = 0; n < nodes; ++n) start_[n + 1] += start_[n];
    std::vector<uint32_t> next(start_.begin(), start_.end() - 1);
    for (uint32_t p = 0; p < nodeOf.size(); ++p) places_[next[nodeOf[p]]++] = p;
  }

  /// Ascending.
  std::span<const uint32_t> of(size_t node) const {
    return std::span(places_).subspan(start_[node], start_[node + 1] - start_[node]);
  }

  size_t bytes() const { return sizeof(uint32_t) * (start_.capacity() + places_.capacity()); }

 private:
  std::vector<uint32_t> start_, places_;
};

}  // namespace juvenor
