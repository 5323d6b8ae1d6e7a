// Colours pulled along a direction: noise drawn out along it into streaks (line integral convolution of white
// noise, Cabral and Leedom 1993) says how far each place reaches back or on, so that edges across the
// direction fray as a brush frays them and edges along it stay.
#include <fmt/format.h>

#include <cmath>

#include "core/layers/filters/filter.h"
#include "core/parallel.h"
#include "core/seeded.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {
namespace {

constexpr size_t kTaps = 3;
// Of a walk, however dense points are.
constexpr int kMostWalk = 200;

// From sample to sample along the direction, as long as there is skin that way.
class Walk {
 public:
  Walk(const Surface& surface, std::span<const Vec3> directions, uint32_t from, float sign)
      : surface_(surface), directions_(directions), at_(from), way_(sign * directions[from]) {}

  uint32_t at() const { return at_; }
  float gone() const { return gone_; }
  /// False where it goes no further.
  bool step() {
    constexpr float kLeastCosine = 0.4f;
    uint32_t next = kNone;
    float best = kLeastCosine, far = 0;
    for (const uint32_t n : surface_.neighborsOf(at_)) {
      const Vec3 step = surface_.positions[n] - surface_.positions[at_];
      const float length = step.norm(), cosine = length > 0 ? step.dot(way_) / length : 0;
      if (cosine > best) {
        best = cosine;
        next = n;
        far = length * cosine;
      }
    }
    if (next == kNone) return false;
    at_ = next;
    gone_ += far;
    const Vec3& there = directions_[next];
    way_ = there.dot(way_) < 0 ? Vec3(-there) : there;
    return true;
  }

 private:
  const Surface& surface_;
  std::span<const Vec3> directions_;
  uint32_t at_;
  Vec3 way_;
  float gone_ = 0;
};

// −1…1 at each sample, alike along the direction.
std::vector<float> streaks(SurfaceMaps& maps, std::span<const Vec3> directions,
                           std::span<const float> lengths, float bristle, uint32_t seed) {
  const Surface& surface = maps.surface();
  const SkinLevel level = skinLevel(maps.ladder(), bristle);
  std::vector<float> out(surface.size());
  parallel(
      out.size(),
      [&](size_t s) {
        float sum = 0, count = 0;
        const auto take = [&](uint32_t at) {
          sum += Draws(seed, level.over(at)).around();
          ++count;
        };
        take(static_cast<uint32_t>(s));
        for (const float sign : {-1.f, 1.f}) {
          Walk walk(surface, directions, static_cast<uint32_t>(s), sign);
          for (int i = 0; i < kMostWalk && walk.gone() < lengths[s] && walk.step(); ++i) take(walk.at());
        }
        // a mean of many is small: brought back to the spread of a single one, softly
        out[s] = std::tanh(1.5f * sum / std::sqrt(count));
      },
      1024);
  return out;
}

class Painterly final : public PlaneFilter {
 public:
  Painterly(std::shared_ptr<const Surface> surface, std::vector<std::array<uint32_t, kTaps>> taps)
      : surface_(std::move(surface)), taps_(std::move(taps)), around_(chunkCount(surface_->size())) {
    parallel(
        around_.size(),
        [&](size_t c) {
          auto& list = around_[c];
          for (size_t s = c * kChunkSize; s < std::min(surface_->size(), (c + 1) * kChunkSize); ++s)
            for (const uint32_t t : taps_[s]) list.push_back(t / kChunkSize);
          std::ranges::sort(list);
          const auto doubles = std::ranges::unique(list);
          list.erase(doubles.begin(), doubles.end());
        },
        1);
  }

  std::span<const uint32_t> around(size_t chunk) const override { return around_[chunk]; }
  ColorField::Pointer filtered(size_t index, const PlaneGround& ground) const override {
    const auto& list = around_[index];
    std::vector<ChunkPlanes> chunks;
    for (const uint32_t c : list) chunks.push_back(ground.at(c));
    auto out = std::make_shared<ColorChunk>();
    const size_t first = index * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
    for (size_t s = first; s < end; ++s) {
      std::array<uint32_t, 3> sum{kTaps / 2, kTaps / 2, kTaps / 2};
      for (const uint32_t t : taps_[s]) {
        const auto found = std::ranges::lower_bound(list, static_cast<uint32_t>(t / kChunkSize));
        const ChunkPlanes& from = chunks[static_cast<size_t>(found - list.begin())];
        for (size_t p = 0; p < 3; ++p)
          if (from.plane[p]) sum[p] += from.plane[p][t % kChunkSize];
      }
      for (size_t p = 0; p < 3; ++p) out->plane[p][s - first] = static_cast<uint16_t>(sum[p] / kTaps);
      out->plane[3][s - first] = 65535;
    }
    return out;
  }
  size_t bytes() const override {
    size_t out = bytesHeld(taps_) + bytesHeld(around_);
    for (const auto& list : around_) out += bytesHeld(list);
    return out;
  }

 private:
  std::shared_ptr<const Surface> surface_;
  std::vector<std::array<uint32_t, kTaps>> taps_;
  std::vector<std::vector<uint32_t>> around_;
};

std::string keyOf(const Pulling& p) {
  return fmt::format("painterly {} {} {} {}", p.bristle, p.seed, textOf(toJson(p.direction)),
                     textOf(toJson(p.length)));
}

Result<PlaneFilterPointer> pulled(SurfaceMaps& maps, const Pulling& pulling, const Progress& progress) {
  const Surface& surface = maps.surface();
  const auto found = directionsOf(maps, pulling.direction, Symmetry::Direction,
                                  [&](float f) { return report(progress, 0.4f * f); });
  if (!found) return found.error();
  const auto sizes = wishedSizes(maps, pulling.length, progress);
  if (!sizes) return sizes.error();
  const std::span<const Vec3> directions = **found;
  const std::span<const float> lengths = *sizes;
  if (!report(progress, 0.5f)) return cancelledError();
  const std::vector<float> pulls = streaks(maps, directions, lengths, pulling.bristle, pulling.seed);
  if (!report(progress, 0.8f)) return cancelledError();
  std::vector<std::array<uint32_t, kTaps>> taps(surface.size());
  parallel(
      taps.size(),
      [&](size_t s) {
        const float pull = pulls[s], whole = std::abs(pull) * lengths[s];
        Walk walk(surface, directions, static_cast<uint32_t>(s), pull < 0 ? -1.f : 1.f);
        bool goes = true;
        for (size_t t = 0; t < kTaps; ++t) {
          // the mean of the last half of the way
          const float far = whole * (0.5f + 0.5f * static_cast<float>(t + 1) / kTaps);
          for (int i = 0; i < kMostWalk && goes && walk.gone() < far; ++i) goes = walk.step();
          taps[s][t] = walk.at();
        }
      },
      1024);
  if (!report(progress, 0.9f)) return cancelledError();
  return PlaneFilterPointer(std::make_shared<Painterly>(maps.sharedSurface(), std::move(taps)));
}

}  // namespace

bool hasPainterlyFilter(SurfaceMaps& maps, const Pulling& pulling) {
  return maps.hasDerived(keyOf(pulling));
}

Result<PlaneFilterPointer> painterlyFilter(SurfaceMaps& maps, const Pulling& pulling,
                                           const Progress& progress) {
  return maps.derived<PlaneFilter>(keyOf(pulling), [&] { return pulled(maps, pulling, progress); });
}

}  // namespace juvenor
