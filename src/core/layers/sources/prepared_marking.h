// What markings have in common once they are prepared: a chunk is worked out when it is first asked for and
// kept, and what a chunk depends on has a signature, so that a change works out again only what it touches.
#pragma once

#include <atomic>
#include <cstring>
#include <mutex>
#include <type_traits>

#include "core/layers/source.h"

namespace juvenor {

class PreparedMarking : public PreparedSource {
 public:
  /// What a chunk holds; null where there is nothing. Of kinds whose colours come from one value a sample
  /// those values alone are kept.
  struct Worked {
    ColorField::Pointer color = {};
    ScalarField::Pointer values = {};
    ScalarField::Pointer relief = {};
    CoverField::Pointer gloss = {};
    CoverField::Pointer wander = {};
  };

  /// `signatures`: one for each chunk, alike only where the chunk is; 0 for a chunk without anything.
  PreparedMarking(ChannelSet channels, std::vector<uint64_t> signatures);

  ChannelSet channels() const override { return channels_; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    const Worked& worked = kept(ask.index);
    return worked.values ? colored(*worked.values) : worked.color;
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    const Worked& worked = kept(ask.index);
    return channel == Channel::Gloss ? worked.gloss : channel == Channel::Wander ? worked.wander : nullptr;
  }
  ScalarField::Pointer heights(Channel, const ChunkAsk& ask) const override { return kept(ask.index).relief; }
  void takeOver(const PreparedSource& before) const override;
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>& marks) const override;
  void markContent(Channel, std::vector<char>& marks) const override;

 private:
  virtual Worked worked(size_t index) const = 0;
  virtual ColorField::Pointer colored(const ScalarChunk& /*values*/) const { return nullptr; }
  const Worked& kept(size_t index) const;

  ChannelSet channels_;
  std::vector<uint64_t> signatures_;
  mutable std::vector<std::once_flag> asked_;
  mutable std::vector<std::atomic<bool>> there_;  // for who only looks
  mutable std::vector<Worked> chunks_;
};

/// Mixes the bytes of a plain value into a signature.
template <class T>
void sign(uint64_t& signature, const T& value) {
  static_assert(std::has_unique_object_representations_v<T> || std::is_same_v<T, float>);
  uint64_t bits = 0;
  std::memcpy(&bits, &value, sizeof(T));
  signature = (signature ^ bits) * 0x9e3779b97f4a7c15ull;
  signature ^= signature >> 29;
}
inline void sign(uint64_t& signature, const Vec3& value) {
  for (int i = 0; i < 3; ++i) sign(signature, value[i]);
}
/// Of text, like the parameters in JSON.
void sign(uint64_t& signature, const std::string& text);

/// Balls around places on the skin, by the chunks whose samples they may touch.
class ChunkBins {
 public:
  struct Ball {
    Vec3 center;
    float radius;
  };
  ChunkBins(const Surface& surface, std::span<const Ball> balls);
  /// Ascending.
  std::span<const uint32_t> of(size_t chunk) const {
    return std::span(balls_).subspan(start_[chunk], start_[chunk + 1] - start_[chunk]);
  }

 private:
  std::vector<size_t> start_;
  std::vector<uint32_t> balls_;
};

/// Calls `body(sample)` for the samples of a chunk that may lie within a ball, box by box.
template <class Body>
void eachSampleNear(const Surface& surface, size_t chunk, const ChunkBins::Ball& ball, Body body) {
  constexpr size_t kBlocks = kChunkSize / kBlockSize;
  for (size_t b = chunk * kBlocks; b < std::min(surface.blocks.size(), (chunk + 1) * kBlocks); ++b) {
    if (surface.blocks[b].squaredDistance(ball.center) > ball.radius * ball.radius) continue;
    const size_t end = std::min(surface.size(), (b + 1) * kBlockSize);
    for (size_t s = b * kBlockSize; s < end; ++s) body(static_cast<uint32_t>(s));
  }
}

}  // namespace juvenor
