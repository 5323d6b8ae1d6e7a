// The normals that relief bends. Around each sample the slope of the heights is the one that fits its
// neighbours best (weighted least squares in the tangent plane, as for gradients on unstructured meshes:
// Mavriplis 2003); the normal leans by that slope as in bump mapping (Blinn 1978). Only chunks near relief
// hold anything. Besides each of them the means of its normals over more and more samples that lie together
// are kept: how short such a mean is tells how much they differ (Toksvig 2005).
#pragma once

#include <array>
#include <memory>
#include <span>
#include <vector>

#include "core/surface/field.h"
#include "core/surface/surface.h"

namespace juvenor {

class ReliefNormals {
 public:
  using Bent = std::array<Vec3, kChunkSize>;
  /// Means are kept of 4, 16 … 4^kLevels samples.
  static constexpr int kLevels = 5;

  ReliefNormals() = default;
  explicit ReliefNormals(std::shared_ptr<const Surface> surface);

  /// Works out anew what changes when these chunks of `relief` did, on all cores. A height of 0 is `level`, a
  /// step is `unit` scene units.
  void update(const ScalarField& relief, uint16_t level, float unit, std::span<const uint32_t> chunks);

  /// The bent normals of a chunk, unit length; null where there is no relief: those of the surface.
  const Bent* chunk(size_t index) const { return chunks_.empty() ? nullptr : chunks_[index].get(); }
  bool any() const { return !chunks_.empty(); }
  const Vec3& at(size_t sample) const {
    const Bent* bent = chunk(sample / kChunkSize);
    return bent ? (*bent)[sample % kChunkSize] : surface_->normals[sample];
  }
  /// The mean of the bent normals over about 4^level samples around, 0 … kLevels: shorter than one where they
  /// differ. Without relief the surface's own, at any level.
  Vec3 meanAt(size_t sample, float level) const;

 private:
  // the means of a chunk, level after level
  using Means = std::array<Vec3, (kChunkSize - (kChunkSize >> 2 * kLevels)) / 3>;
  static std::shared_ptr<const Means> meansOf(const Bent& bent, size_t samples);

  std::shared_ptr<const Surface> surface_;
  std::vector<std::shared_ptr<const Bent>> chunks_;  ///< empty until there is relief
  std::vector<std::shared_ptr<const Means>> means_;
};

/// Those of all heights at once.
ReliefNormals reliefNormals(std::shared_ptr<const Surface> surface, const ScalarField& relief, uint16_t level,
                            float unit);

}  // namespace juvenor
