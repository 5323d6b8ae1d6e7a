#include "core/render/wandering_light.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/surface/graph/coarse_skin.h"
#include "core/surface/graph/gaussian_sum.h"
#include "core/surface/graph/melt.h"

namespace juvenor {
namespace {

constexpr SkinGaussian kGaussians[] = {
    {0.0064f, {0.233f, 0.455f, 0.649f}}, {0.0484f, {0.100f, 0.336f, 0.344f}},
    {0.187f, {0.118f, 0.198f, 0.000f}},  {0.567f, {0.113f, 0.007f, 0.007f}},
    {1.99f, {0.358f, 0.004f, 0.000f}},   {7.41f, {0.078f, 0.000f, 0.000f}},
};

// The coarsest cells of a ladder on which a Gaussian is as good as on the finest.
size_t levelFor(const SkinLadder& ladder, float variance) {
  constexpr float kCellsAcross = 1.5f;
  size_t level = 0;
  while (level + 1 < ladder.graphs.size() && ladder.cells[level + 1] * kCellsAcross <= std::sqrt(variance))
    ++level;
  return level;
}

// Some Gaussians over coarser cells, read at every sample.
Result<std::vector<ReceivedLight>> wanderedFar(const std::shared_ptr<const SkinLadder>& ladder, size_t level,
                                               std::span<const ReceivedLight> received,
                                               std::vector<GaussianPart> gaussians,
                                               const Progress& progress) {
  const CoarseSkin coarse = coarseSkin(ladder, level);
  const SkinGraph &graph = coarse.graph(), &fine = ladder->graphs[0];
  std::vector<ReceivedLight> means(graph.size());
  parallel(graph.size(), [&](size_t node) {
    Eigen::Array3d sum = Eigen::Array3d::Zero();
    for (const uint32_t s : coarse.members.of(node))
      for (size_t c = 0; c < 3; ++c)
        sum[static_cast<int>(c)] += static_cast<double>(fine.areas[s]) * static_cast<double>(received[s][c]);
    for (size_t c = 0; c < 3; ++c)
      means[node][c] = static_cast<float>(sum[static_cast<int>(c)]) / graph.areas[node];
  });
  for (GaussianPart& g : gaussians) g.variance = std::max(0.f, g.variance - varianceOfCells(coarse.cell()));
  const auto spread = gaussianSum(graph, means, gaussians, progress);
  if (!spread) return spread.error();
  std::vector<ReceivedLight> out(received.size(), ReceivedLight{});
  std::vector<float> values(graph.size()), far(received.size());
  for (size_t c = 0; c < 3; ++c) {
    if (std::ranges::all_of(gaussians, [&](const GaussianPart& g) { return g.part[c] == 0; })) continue;
    parallel(values.size(), [&](size_t n) { values[n] = (*spread)[n][c]; });
    const BlendedPlanes planes(graph, coarse.cell(), values);
    parallel(
        graph.size(),
        [&](size_t n) { planes.at(static_cast<uint32_t>(n), coarse.members.of(n), fine.positions, far); },
        256);
    parallel(out.size(), [&](size_t s) { out[s][c] = far[s]; });
  }
  return out;
}

}  // namespace

Result<std::vector<ReceivedLight>> wandered(const std::shared_ptr<const SkinLadder>& ladder,
                                            std::span<const ReceivedLight> received, float millimetres,
                                            float depth, const Progress& progress,
                                            std::span<const SkinGaussian> table) {
  const float scale = depth * depth / (millimetres * millimetres);
  std::vector<ReceivedLight> out;
  for (size_t first = 0, end = 0; first < table.size(); first = end) {
    const size_t level = levelFor(*ladder, scale * table[first].variance);
    std::vector<GaussianPart> alike;
    for (end = first; end < table.size(); ++end) {
      const SkinGaussian& g = table[end];
      if (levelFor(*ladder, scale * g.variance) != level) break;
      alike.push_back({scale * g.variance, g.part});
    }
    const Progress part = [&](float f) {
      const float from = static_cast<float>(first), to = static_cast<float>(end);
      return report(progress, (from + f * (to - from)) / static_cast<float>(table.size()));
    };
    auto spread = level == 0 ? gaussianSum(ladder->graphs[0], received, alike, part)
                             : wanderedFar(ladder, level, received, alike, part);
    if (!spread) return spread;
    if (first == 0) {
      out = std::move(*spread);
      continue;
    }
    parallel(out.size(), [&](size_t s) {
      for (size_t c = 0; c < 3; ++c) out[s][c] += (*spread)[s][c];
    });
  }
  return out;
}

std::span<const SkinGaussian> skinGaussians() {
  return kGaussians;
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
             std::span<const ThroughForm> through, float millimetres, float depth,
             std::optional<size_t> color) {
  parallel(light.size(), [&](size_t s) {
    if (through[s].sample == kNone) return;
    const float way = through[s].way * millimetres / depth;
    if (way > kThickestGlow) return;
    std::array<float, 3> part = glowThrough(way);
    if (color) part.fill(part[*color]);
    for (size_t c = 0; c < 3; ++c) light[s][c] += part[c] * received[through[s].sample][c];
  });
}

}  // namespace juvenor
