// The noise hue zones are broken up with. It lies still on the skin whatever zone is moved over it, so it is
// worked out once, where a zone asks for it.
#pragma once

#include <memory>
#include <mutex>
#include <vector>

#include "core/surface/field.h"
#include "core/surface/graph/coarse_skin.h"

namespace juvenor {

class ZoneNoise {
 public:
  /// At the samples, or as means over the nodes of a coarser skin. `grain`: the size of the largest
  /// features, scene units.
  ZoneNoise(std::shared_ptr<const Surface> surface, std::shared_ptr<const CoarseSkin> nodes, float grain);

  struct Value {
    float edge;    ///< −1…1, moves the edge in and out
    float mottle;  ///< 0…1, takes away inside
  };

 private:
  struct Chunk {
    std::array<int16_t, kChunkSize> edge;
    std::array<uint16_t, kChunkSize> mottle;
  };

 public:
  /// Of what is worked out by now.
  size_t bytes() const {
    return made_ * sizeof(Chunk) + asked_.size() * (sizeof(asked_[0]) + sizeof(chunks_[0]));
  }
  /// Reads places by their number, fastest one after the other. Each thread has its own.
  class Reader {
   public:
    explicit Reader(const ZoneNoise& noise) : noise_(noise) {}
    Value at(uint32_t place) {
      if (const size_t c = place / kChunkSize; c != index_) {
        chunk_ = &noise_.chunk(c);
        index_ = c;
      }
      const size_t i = place % kChunkSize;
      return {static_cast<float>(chunk_->edge[i]) / 32767.f, static_cast<float>(chunk_->mottle[i]) / 65535.f};
    }

   private:
    const ZoneNoise& noise_;
    size_t index_ = SIZE_MAX;
    const Chunk* chunk_ = nullptr;
  };

 private:
  const Chunk& chunk(size_t index) const;
  std::unique_ptr<const Chunk> workedOut(size_t chunk) const;
  size_t size() const { return nodes_ ? nodes_->graph().size() : surface_->size(); }

  std::shared_ptr<const Surface> surface_;
  std::shared_ptr<const CoarseSkin> nodes_;  // null: the samples
  float grain_;
  mutable std::vector<std::once_flag> asked_;
  mutable std::vector<std::unique_ptr<const Chunk>> chunks_;
  mutable std::atomic<size_t> made_ = 0;
};

}  // namespace juvenor
