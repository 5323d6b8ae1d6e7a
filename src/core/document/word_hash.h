// What arrays are known by in files: 64-bit FNV-1a over words of 32 bits (after Fowler, Noll, Vo 1991).
#pragma once

#include <cstdint>
#include <vector>

namespace juvenor {

class WordHash {
 public:
  template <class T>
  void add(const std::vector<T>& values) {
    const auto* words = reinterpret_cast<const uint32_t*>(values.data());
    for (size_t i = 0; i < values.size() * sizeof(T) / sizeof(uint32_t); ++i) {
      hash_ ^= words[i];
      hash_ *= 1099511628211ull;
    }
  }
  /// Never 0.
  uint64_t value() const { return hash_ ? hash_ : 1; }

 private:
  uint64_t hash_ = 14695981039346656037ull;
};

}  // namespace juvenor
