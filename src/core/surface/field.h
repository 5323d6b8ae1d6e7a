// One value for every sample, in chunks of 4,096 neighbours. A chunk is shared between versions of a document
// until it is written; a chunk never written takes no memory and reads as the field's default.
#pragma once

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
  explicit Field(size_t samples, Value fallback = {})
      : samples_(samples), fallback_(fallback), chunks_(juvenor::chunkCount(samples)) {}

  size_t size() const { return samples_; }
  size_t chunkCount() const { return chunks_.size(); }
  const Value& fallback() const { return fallback_; }

  /// The chunk, or null when it was never written.
  const Pointer& chunk(size_t index) const { return chunks_[index]; }
  void setChunk(size_t index, Pointer chunk) { chunks_[index] = std::move(chunk); }

  Value at(size_t sample) const {
    const Pointer& c = chunks_[sample / kChunkSize];
    if (!c) return fallback_;
    Value v;
    for (int p = 0; p < Planes; ++p) v[p] = c->plane[p][sample % kChunkSize];
    return v;
  }

  /// A private copy of the chunk for writing (defaults filled in); hand it back with setChunk.
  std::shared_ptr<ChunkType> writable(size_t index) const {
    if (chunks_[index]) return std::make_shared<ChunkType>(*chunks_[index]);
    auto fresh = std::make_shared<ChunkType>();
    for (int p = 0; p < Planes; ++p) fresh->plane[p].fill(fallback_[p]);
    return fresh;
  }

 private:
  size_t samples_ = 0;
  Value fallback_{};
  std::vector<Pointer> chunks_;
};

using ColorField = Field<4>;
using ScalarField = Field<1>;

inline Rgba16 colorAt(const ColorField& field, size_t sample) {
  const auto v = field.at(sample);
  return {v[0], v[1], v[2], v[3]};
}

}  // namespace juvenor
