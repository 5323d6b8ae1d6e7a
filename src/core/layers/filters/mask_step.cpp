// The steps of masks, each on a chunk at a time from the chunks around it.
#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

#include "core/layers/filters/filter.h"
#include "core/layers/filters/grown_mask.h"
#include "core/layers/mask_steps.h"
#include "core/layers/mask_terms.h"
#include "core/noise/even_noise.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// What filters of colour make of it, or with a sharpness what differs from that made stronger.
class FilterStep final : public PreparedMaskStep {
 public:
  FilterStep(PlaneFilterPointer filter, float sharpen) : filter_(std::move(filter)), sharpen_(sharpen) {}
  std::span<const uint32_t> around(size_t chunk) const override { return filter_->around(chunk); }
  ScalarField::Pointer made(size_t chunk, const PlaneGround& before) const override {
    const auto filtered = filter_->filtered(chunk, before);
    auto out = std::make_shared<ScalarChunk>();
    out->plane[0] = filtered->plane[0];
    if (sharpen_ == 0) return out;
    const ChunkPlanes from = before.at(chunk);
    for (size_t i = 0; i < kChunkSize; ++i) {
      const float was = from.plane[0][i];
      const float sharp = was + sharpen_ * (was - static_cast<float>(filtered->plane[0][i]));
      out->plane[0][i] = static_cast<uint16_t>(std::clamp(sharp + 0.5f, 0.f, 65535.f));
    }
    return out;
  }

 private:
  PlaneFilterPointer filter_;
  float sharpen_;
};

// What becomes of a value is told by itself.
class ContrastStep final : public PreparedMaskStep {
 public:
  explicit ContrastStep(float contrast) : table_(65536) {
    for (size_t v = 0; v < table_.size(); ++v)
      table_[v] = to16(contrasted(from16(static_cast<uint16_t>(v)), contrast));
  }
  ScalarField::Pointer made(size_t chunk, const PlaneGround& before) const override {
    const ChunkPlanes from = before.at(chunk);
    auto out = std::make_shared<ScalarChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) out->plane[0][i] = table_[from.plane[0][i]];
    return out;
  }

 private:
  std::vector<uint16_t> table_;
};

// Shown where an even noise is less than the mask: of all that is shown by a third a third, in patches.
class BreakUpStep final : public PreparedMaskStep {
 public:
  BreakUpStep(std::shared_ptr<const Surface> surface, const MaskStep& step)
      : surface_(std::move(surface)), back_(surface_->turn.transpose()), step_(step) {}
  ScalarField::Pointer made(size_t chunk, const PlaneGround& before) const override {
    // how far apart in noise a patch's rim fades
    constexpr float kFade = 0.06f;
    const ChunkPlanes from = before.at(chunk);
    auto out = std::make_shared<ScalarChunk>();
    std::copy_n(from.plane[0], kChunkSize, out->plane[0].begin());
    const size_t first = chunk * kChunkSize, count = std::min(kChunkSize, surface_->size() - first);
    std::vector<uint32_t> between;
    for (uint32_t i = 0; i < count; ++i)
      if (from.plane[0][i] > 0 && from.plane[0][i] < 65535) between.push_back(i);
    if (between.empty()) return out;
    PlaceRow places(between.size());
    std::vector<float> apart(between.size());
    for (size_t k = 0; k < between.size(); ++k) {
      places.set(k, back_ * surface_->positions[first + between[k]]);
      apart[k] = std::sqrt(surface_->areas[first + between[k]]);
    }
    const std::vector<float> noise = evenNoise(NoiseKind::Cloud, places, step_.size, apart, step_.seed);
    for (size_t k = 0; k < between.size(); ++k) {
      const float was = from16(from.plane[0][between[k]]);
      // (the fade lies within 0…1, so that what is all hidden or all shown stays so)
      const float fade = std::min({kFade, was, 1 - was});
      const float cut = fade > 0 ? std::clamp((was - noise[k]) / (2 * fade) + 0.5f, 0.f, 1.f)
                                 : (was > noise[k] ? 1.f : 0.f);
      out->plane[0][between[k]] = to16(was + step_.amount * (cut - was));
    }
    return out;
  }

 private:
  std::shared_ptr<const Surface> surface_;
  Eigen::Matrix3f back_;
  MaskStep step_;
};

// Grown or shrunk: each chunk with what lies within the way of it, as a skin of its own.
class GrowStep final : public PreparedMaskStep {
 public:
  GrowStep(std::shared_ptr<const Surface> surface, float way) : surface_(std::move(surface)), way_(way) {
    const size_t chunks = chunkCount(surface_->size());
    boxes_.resize(chunks);
    around_.resize(chunks);
    for (size_t c = 0; c < chunks; ++c)
      for (size_t s = c * kChunkSize; s < endOf(c); ++s) boxes_[c].extend(surface_->positions[s]);
    parallel(
        chunks,
        [&](size_t c) {
          const Box wide = widened(c);
          for (uint32_t other = 0; other < chunks; ++other)
            if (other == c || wide.intersects(boxes_[other])) around_[c].push_back(other);
        },
        16);
  }
  std::span<const uint32_t> around(size_t chunk) const override { return around_[chunk]; }
  ScalarField::Pointer made(size_t chunk, const PlaneGround& before) const override;

 private:
  using Box = Eigen::AlignedBox3f;
  size_t endOf(size_t chunk) const { return std::min(surface_->size(), (chunk + 1) * kChunkSize); }
  // as far as a front runs, and a little for the rim it starts from
  Box widened(size_t chunk) const {
    const float more = std::abs(way_) + 4 * surface_->spacing;
    return {boxes_[chunk].min() - Vec3::Constant(more), boxes_[chunk].max() + Vec3::Constant(more)};
  }

  std::shared_ptr<const Surface> surface_;
  float way_;
  std::vector<Box> boxes_;
  std::vector<std::vector<uint32_t>> around_;
};

ScalarField::Pointer GrowStep::made(size_t chunk, const PlaneGround& before) const {
  const std::vector<uint32_t>& list = around_[chunk];
  const Box wide = widened(chunk);
  // samples taken, and which they are among those of the listed chunks
  std::vector<uint32_t> samples, numbers(list.size() * kChunkSize, kNone);
  std::vector<float> values;
  bool shows = false, hides = false;
  for (size_t k = 0; k < list.size(); ++k) {
    const ChunkPlanes from = before.at(list[k]);
    const size_t first = list[k] * kChunkSize;
    for (size_t s = first; s < endOf(list[k]); ++s) {
      if (list[k] != chunk && !wide.contains(surface_->positions[s])) continue;
      numbers[k * kChunkSize + s - first] = static_cast<uint32_t>(samples.size());
      samples.push_back(static_cast<uint32_t>(s));
      values.push_back(from16(from.plane[0][s - first]));
      (values.back() < 0.5f ? hides : shows) = true;
    }
  }
  const ChunkPlanes own = before.at(chunk);
  auto out = std::make_shared<ScalarChunk>();
  std::copy_n(own.plane[0], kChunkSize, out->plane[0].begin());
  if (!shows || !hides) return out;
  std::vector<Vec3> positions;
  std::vector<uint32_t> start{0}, neighbors;
  for (const uint32_t s : samples) {
    positions.push_back(surface_->positions[s]);
    for (const uint32_t n : surface_->neighborsOf(s)) {
      const auto at = std::ranges::lower_bound(list, static_cast<uint32_t>(n / kChunkSize));
      if (at == list.end() || *at != n / kChunkSize) continue;
      const uint32_t number = numbers[static_cast<size_t>(at - list.begin()) * kChunkSize + n % kChunkSize];
      if (number != kNone) neighbors.push_back(number);
    }
    start.push_back(static_cast<uint32_t>(neighbors.size()));
  }
  growMask({positions, start, neighbors}, values, way_, surface_->spacing);
  for (size_t k = 0; k < samples.size(); ++k)
    if (samples[k] / kChunkSize == chunk) out->plane[0][samples[k] % kChunkSize] = to16(values[k]);
  return out;
}

// What a mask's edges are pulled by: the way patterns lie where nobody says otherwise, or across that.
struct PullOf {
  Guides guides;
  Pulling pulling;

  PullOf(const Surface& surface, const MaskStep& step, bool across)
      : guides(usualGuides(surface.bounds.diagonal())),
        pulling{guides.direction, guides.size, step.amount * step.size, step.seed} {
    guides.direction.turn = across ? 90 : 0;
    guides.size = {};
    guides.size.size = step.size;
  }
};

bool isReady(SurfaceMaps& maps, const MaskStep& step) {
  using Way = MaskStep::Way;
  if (step.way == Way::Melt || step.way == Way::Sharpen) return hasMeltFilter(maps, step.size);
  if (step.way == Way::Painterly)
    return hasPainterlyFilter(maps, PullOf(maps.surface(), step, false).pulling) &&
           hasPainterlyFilter(maps, PullOf(maps.surface(), step, true).pulling);
  return true;
}

using Made = std::shared_ptr<const PreparedMaskStep>;

Result<Made> pulled(SurfaceMaps& maps, const MaskStep& step, bool across, const Progress& progress) {
  const auto filter = painterlyFilter(maps, PullOf(maps.surface(), step, across).pulling, progress);
  if (!filter) return filter.error();
  return Made(std::make_shared<FilterStep>(*filter, 0.f));
}

Result<Made> preparedStep(SurfaceMaps& maps, const MaskStep& step, const Progress& progress) {
  switch (step.way) {
    case MaskStep::Way::Melt:
    case MaskStep::Way::Sharpen: {
      const auto filter = meltFilter(maps, step.size, progress);
      if (!filter) return filter.error();
      const float sharpen = step.way == MaskStep::Way::Sharpen ? step.amount : 0.f;
      return Made(std::make_shared<FilterStep>(*filter, sharpen));
    }
    case MaskStep::Way::Painterly:
      return pulled(maps, step, false, progress);
    case MaskStep::Way::Grow:
      return Made(std::make_shared<GrowStep>(maps.sharedSurface(), step.size));
    case MaskStep::Way::Shrink:
      return Made(std::make_shared<GrowStep>(maps.sharedSurface(), -step.size));
    case MaskStep::Way::Contrast:
      return Made(std::make_shared<ContrastStep>(step.amount));
    case MaskStep::Way::BreakUp:
      return Made(std::make_shared<BreakUpStep>(maps.sharedSurface(), step));
  }
  return Error{"no mask has such a step"};
}

}  // namespace

Result<std::shared_ptr<const PreparedMaskSteps>> preparedSteps(SurfaceMaps& maps, const MaskSteps& steps,
                                                               const Progress& progress) {
  auto out = std::make_shared<PreparedMaskSteps>();
  for (const MaskStep& step : steps) {
    auto made = preparedStep(maps, step, [&](float f) {
      return report(progress, (static_cast<float>(out->size()) + f) / static_cast<float>(steps.size()));
    });
    if (!made) return made.error();
    out->push_back(std::move(*made));
    if (step.way != MaskStep::Way::Painterly) continue;
    // edges that run along the one way fray by the other
    made = pulled(maps, step, true, progress);
    if (!made) return made.error();
    out->push_back(std::move(*made));
  }
  return std::shared_ptr<const PreparedMaskSteps>(std::move(out));
}

bool areStepsReady(SurfaceMaps& maps, const MaskSteps& steps) {
  return std::ranges::all_of(steps, [&](const MaskStep& step) { return isReady(maps, step); });
}

}  // namespace juvenor
