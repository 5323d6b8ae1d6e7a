#include "core/render/wandering_light.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/surface/coarse_distance.h"
#include "core/surface/melt.h"

namespace juvenor {
namespace {

constexpr SkinGaussian kGaussians[] = {
    {0.0064f, {0.233f, 0.455f, 0.649f}}, {0.0484f, {0.100f, 0.336f, 0.344f}},
    {0.187f, {0.118f, 0.198f, 0.000f}},  {0.567f, {0.113f, 0.007f, 0.007f}},
    {1.99f, {0.358f, 0.004f, 0.000f}},   {7.41f, {0.078f, 0.000f, 0.000f}},
};

}  // namespace

std::span<const SkinGaussian> skinGaussians() {
  return kGaussians;
}

namespace {

// One colour of light on its way: heat goes on from Gaussian to Gaussian, since variances add up. What is
// smooth enough already goes on over a coarser skin.
class Wandering {
 public:
  Wandering(const std::shared_ptr<const SkinLadder>& ladder, std::vector<float> values)
      : ladder_(ladder), values_(std::move(values)) {}

  // To a variance (scene units squared), never back.
  const std::vector<float>& to(float variance) {
    const size_t level = levelFor(values_.empty() ? 0 : variance_);
    if (level == 0) {
      flowHeat(ladder_->graphs[0], values_, variance - variance_);
      variance_ = variance;
      return values_;
    }
    const CoarseSkin coarse = coarseSkin(ladder_, level);
    std::vector<double> sums(coarse.graph().size(), 0.0);
    const auto& areas = ladder_->graphs[0].areas;
    for (size_t s = 0; s < values_.size(); ++s)
      sums[coarse.nodeOf[s]] += static_cast<double>(areas[s]) * static_cast<double>(values_[s]);
    std::vector<float> means(sums.size());
    for (size_t n = 0; n < means.size(); ++n)
      means[n] = static_cast<float>(sums[n]) / coarse.graph().areas[n];
    const BlendedPlanes planes =
        meltedPlanes(coarse.graph(), coarse.cell(), std::move(means), std::sqrt(variance - variance_));
    far_.resize(values_.size());
    parallel(
        coarse.graph().size(),
        [&](size_t n) {
          planes.at(static_cast<uint32_t>(n), coarse.members.of(n), ladder_->graphs[0].positions, far_);
        },
        256);
    return far_;
  }

 private:
  // Cells no wider than what is smooth already.
  size_t levelFor(float variance) const {
    size_t level = 0;
    while (level + 1 < ladder_->graphs.size() && ladder_->cells[level + 1] <= std::sqrt(variance)) ++level;
    return level;
  }

  std::shared_ptr<const SkinLadder> ladder_;
  std::vector<float> values_, far_;
  float variance_ = 0;
};

}  // namespace

Result<std::vector<ReceivedLight>> wandered(const std::shared_ptr<const SkinLadder>& ladder,
                                            std::span<const ReceivedLight> received, float millimetres,
                                            float depth, const Progress& progress) {
  const size_t n = received.size();
  std::vector<ReceivedLight> out(n);
  const auto neutral = [&](size_t s) {
    return received[s][0] == received[s][1] && received[s][1] == received[s][2];
  };
  // of a light without colour one melting serves all three
  bool one = true;
  for (size_t s = 0; s < n && one; ++s) one = neutral(s);
  const size_t colors = one ? 1 : 3;
  const float scale = depth * depth / (millimetres * millimetres);
  float done = 0;
  for (size_t c = 0; c < colors; ++c) {
    std::vector<float> values(n);
    parallel(n, [&](size_t s) { values[s] = received[s][c]; });
    Wandering light(ladder, std::move(values));
    for (const SkinGaussian& g : kGaussians) {
      if (!report(progress, (done += 1) / static_cast<float>(colors * std::size(kGaussians) + 1)))
        return cancelledError();
      if (!one && g.part[c] == 0) continue;
      const std::vector<float>& spread = light.to(scale * g.variance);
      parallel(n, [&](size_t s) {
        for (size_t k = one ? 0 : c; k < (one ? 3 : c + 1); ++k) out[s][k] += g.part[k] * spread[s];
      });
    }
  }
  return out;
}

std::vector<ThroughForm> throughForms(const Rays& rays, float most) {
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface);
  std::vector<ThroughForm> out(surface.size());
  parallel(surface.size(), [&](size_t s) {
    const Vec3 inward = -surface.normals[s];
    const auto hit = rays.first({surface.positions[s] + lift * inward, inward});
    if (!hit || hit->distance > most) return;
    const Triangle& t = surface.triangles[hit->triangle];
    const float w = 1 - hit->u - hit->v;
    out[s] = {w >= hit->u && w >= hit->v ? t[0] : hit->u >= hit->v ? t[1] : t[2], hit->distance + lift};
  });
  return out;
}

std::array<float, 3> glowThrough(float millimetres) {
  std::array<float, 3> out{};
  for (const SkinGaussian& g : kGaussians) {
    const float through = std::exp(-millimetres * millimetres / (2 * g.variance));
    for (size_t c = 0; c < 3; ++c) out[c] += g.part[c] * through;
  }
  return out;
}

void addGlow(std::span<ReceivedLight> light, std::span<const ReceivedLight> received,
             std::span<const ThroughForm> through, float millimetres, float depth) {
  parallel(light.size(), [&](size_t s) {
    if (through[s].sample == kNone) return;
    const float way = through[s].way * millimetres / depth;
    if (way > kThickestGlow) return;
    const std::array<float, 3> part = glowThrough(way);
    for (size_t c = 0; c < 3; ++c) light[s][c] += part[c] * received[through[s].sample][c];
  });
}

}  // namespace juvenor
