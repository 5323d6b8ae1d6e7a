// Values at some of the places of a skin.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace juvenor {

struct SparseValues {
  std::vector<uint32_t> samples;  ///< ascending
  std::vector<float> values;      ///< one for each

  size_t bytes() const { return sizeof(uint32_t) * samples.capacity() + sizeof(float) * values.capacity(); }
};

/// Stretches that follow each other as one.
inline SparseValues joined(std::span<const SparseValues> stretches) {
  SparseValues out;
  size_t count = 0;
  for (const SparseValues& s : stretches) count += s.samples.size();
  out.samples.reserve(count);
  out.values.reserve(count);
  for (const SparseValues& s : stretches) {
    out.samples.insert(out.samples.end(), s.samples.begin(), s.samples.end());
    out.values.insert(out.values.end(), s.values.begin(), s.values.end());
  }
  return out;
}

}  // namespace juvenor
