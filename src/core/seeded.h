// Numbers that look random and follow from a seed alone, the same on every machine: SplitMix64 (Steele, Lea,
// Flood 2014).
#pragma once

#include <cstdint>

namespace juvenor {

class Draws {
 public:
  explicit Draws(uint64_t seed) : state_(seed) {}
  /// For one thing among many that share a seed.
  Draws(uint64_t seed, uint64_t which) : state_(Draws(seed ^ (which * 0xd1342543de82ef95ull)).bits()) {}

  uint64_t bits() {
    uint64_t z = state_ += 0x9e3779b97f4a7c15ull;
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
    return z ^ (z >> 31);
  }
  /// 0 … below 1.
  float unit() { return static_cast<float>(bits() >> 40) * 0x1p-24f; }
  /// −1 … below 1.
  float around() { return 2 * unit() - 1; }

 private:
  uint64_t state_;
};

}  // namespace juvenor
