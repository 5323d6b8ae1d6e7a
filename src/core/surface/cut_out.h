// A few chunks of a surface as a surface of their own: what is worked out on it costs what those chunks cost,
// and comes out as on the whole one, but along the cut.
#pragma once

#include "core/surface/field.h"
#include "core/surface/sparse_values.h"
#include "core/surface/surface.h"

namespace juvenor {

struct CutOut {
  std::shared_ptr<const Surface> surface;  ///< bounds, spacing and turn are those of the whole
  std::vector<uint32_t> chunks;            ///< of the whole, ascending: the first is the first here

  /// Which sample of the whole one of the cut is.
  size_t wholeSample(size_t sample) const {
    return size_t{chunks[sample / kChunkSize]} * kChunkSize + sample % kChunkSize;
  }
};

/// `chunks` ascending, each once.
CutOut cutOut(const Surface& whole, std::vector<uint32_t> chunks);

/// Of one value a sample of the whole those of the cut.
template <class T>
std::vector<T> cutValues(const CutOut& cut, const std::vector<T>& whole) {
  std::vector<T> out;
  out.reserve(cut.surface->size());
  for (const uint32_t c : cut.chunks) {
    const auto from = whole.begin() + static_cast<std::ptrdiff_t>(c * kChunkSize);
    out.insert(out.end(), from, from + std::min<std::ptrdiff_t>(kChunkSize, whole.end() - from));
  }
  return out;
}
SparseValues cutValues(const CutOut& cut, const SparseValues& whole);

}  // namespace juvenor
