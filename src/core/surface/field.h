// One value for every sample, in chunks of 4,096 neighbours. A chunk is shared between versions of a document
// until it is written; a chunk never written takes no memory and reads as the field's default, and a field
// nobody ever wrote holds nothing at all.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <memory>
#include <vector>

#include "core/color/srgb.h"

namespace juvenor {

inline constexpr size_t kChunkSize = 4096;

inline constexpr size_t chunkCount(size_t samples) {
  return (samples + kChunkSize - 1) / kChunkSize;
}

/// `Planes` planes of 4,096 values of 16 bits. Colour has four: red, green, blue, alpha (premultiplied,
/// encoded).
template <int Planes>
struct Chunk {
  alignas(64) std::array<std::array<uint16_t, kChunkSize>, Planes> plane{};
};
using ColorChunk = Chunk<4>;
using CoverChunk = Chunk<2>;  ///< a value, premultiplied by its cover, and the cover
using ScalarChunk = Chunk<1>;

inline Rgba16 sampleOf(const ColorChunk& chunk, size_t i) {
  return {chunk.plane[0][i], chunk.plane[1][i], chunk.plane[2][i], chunk.plane[3][i]};
}
inline void setSample(ColorChunk& chunk, size_t i, const Rgba16& value) {
  chunk.plane[0][i] = value.r;
  chunk.plane[1][i] = value.g;
  chunk.plane[2][i] = value.b;
  chunk.plane[3][i] = value.a;
}

template <int Planes>
class Field {
 public:
  using ChunkType = Chunk<Planes>;
  using Pointer = std::shared_ptr<const ChunkType>;
  using Value = std::array<uint16_t, Planes>;

  Field() = default;
  explicit Field(size_t samples, Value fallback = {}) : samples_(samples), fallback_(fallback) {}

  size_t size() const { return samples_; }
  size_t chunkCount() const { return juvenor::chunkCount(samples_); }
  const Value& fallback() const { return fallback_; }
  /// Whether any chunk was written.
  bool holdsAny() const {
    return std::ranges::any_of(chunks_, [](const Pointer& c) { return c != nullptr; });
  }

  /// Of its chunks, whoever else holds them.
  size_t bytes() const {
    const auto written = std::ranges::count_if(chunks_, [](const Pointer& c) { return c != nullptr; });
    return sizeof(Pointer) * chunks_.capacity() + sizeof(ChunkType) * static_cast<size_t>(written);
  }

  /// The chunk, or null when it was never written.
  const Pointer& chunk(size_t index) const {
    static const Pointer none;
    return chunks_.empty() ? none : chunks_[index];
  }
  void setChunk(size_t index, Pointer chunk) {
    if (!chunk && chunks_.empty()) return;
    makeRoom();
    chunks_[index] = std::move(chunk);
  }
  /// Said before several threads set chunks, each its own.
  void makeRoom() {
    if (chunks_.empty()) chunks_.resize(chunkCount());
  }

  Value at(size_t sample) const {
    const Pointer& c = chunk(sample / kChunkSize);
    if (!c) return fallback_;
    Value v;
    for (int p = 0; p < Planes; ++p) v[p] = c->plane[p][sample % kChunkSize];
    return v;
  }

  /// A private copy of the chunk for writing (defaults filled in); hand it back with setChunk.
  std::shared_ptr<ChunkType> writable(size_t index) const {
    if (const Pointer& written = chunk(index)) return std::make_shared<ChunkType>(*written);
    auto fresh = std::make_shared<ChunkType>();
    for (int p = 0; p < Planes; ++p) fresh->plane[p].fill(fallback_[p]);
    return fresh;
  }

 private:
  size_t samples_ = 0;
  Value fallback_{};
  std::vector<Pointer> chunks_;  ///< empty until the first is written
};

using ColorField = Field<4>;
using CoverField = Field<2>;
using ScalarField = Field<1>;

inline Rgba16 colorAt(const ColorField& field, size_t sample) {
  const auto v = field.at(sample);
  return {v[0], v[1], v[2], v[3]};
}

}  // namespace juvenor
