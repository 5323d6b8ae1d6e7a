#include "core/surface/maps/open_sky.h"

#include <cmath>
#include <numbers>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr size_t kMostNodes = 200'000;
constexpr int kSoftRounds = 2;  // of means with neighbours: light wanders in skin, and a lamp is no point

SkinLevel levelFor(SurfaceMaps& maps) {
  const auto ladder = maps.ladder();
  size_t level = 0;
  while (level + 1 < ladder->graphs.size() && ladder->graphs[level].size() > kMostNodes) ++level;
  return skinLevel(ladder, ladder->cells[level]);
}

// The sample nearest to the middle of what lies under each node: middles themselves may lie in the body.
std::vector<uint32_t> samplesFor(const SkinLevel& level, const Surface& surface) {
  const SkinGraph& graph = level.graph();
  std::vector<uint32_t> out(graph.size(), kNone);
  std::vector<float> best(graph.size(), std::numeric_limits<float>::infinity());
  for (uint32_t s = 0; s < surface.size(); ++s) {
    const uint32_t node = level.over(s);
    const float away = (surface.positions[s] - graph.positions[node]).squaredNorm();
    if (away < best[node]) {
      best[node] = away;
      out[node] = s;
    }
  }
  return out;
}

void soften(const SkinGraph& graph, std::vector<std::array<uint8_t, kSkyWays>>& open) {
  for (int round = 0; round < kSoftRounds; ++round) {
    const auto before = open;
    parallel(graph.size(), [&](size_t n) {
      std::array<uint16_t, kSkyWays> sum;
      std::copy(before[n].begin(), before[n].end(), sum.begin());
      uint16_t count = 1;
      for (uint32_t i = graph.start[n]; i < graph.start[n + 1] && count < 200; ++i, ++count)
        for (size_t w = 0; w < kSkyWays; ++w)
          sum[w] = static_cast<uint16_t>(sum[w] + before[graph.neighbors[i]][w]);
      for (size_t w = 0; w < kSkyWays; ++w) open[n][w] = static_cast<uint8_t>(sum[w] / count);
    });
  }
}

}  // namespace

std::span<const Vec3, kSkyWays> skyWays() {
  static const std::array<Vec3, kSkyWays> ways = [] {
    // the sunflower's angle from one to the next (Vogel 1979), heights in even steps (Archimedes)
    constexpr double kGolden = std::numbers::pi * 0.7639320225002103;
    std::array<Vec3, kSkyWays> out;
    for (size_t i = 0; i < kSkyWays; ++i) {
      const double up = 1 - (2 * static_cast<double>(i) + 1) / kSkyWays, flat = std::sqrt(1 - up * up),
                   around = kGolden * static_cast<double>(i);
      out[i] = Vec3(static_cast<float>(flat * std::cos(around)), static_cast<float>(up),
                    static_cast<float>(flat * std::sin(around)));
    }
    return out;
  }();
  return ways;
}

Result<std::shared_ptr<const OpenSky>> openSky(SurfaceMaps& maps, const Progress& progress) {
  return maps.derived<OpenSky>("open sky", [&]() -> Result<std::shared_ptr<const OpenSky>> {
    const auto rays = maps.rays(progress);
    if (!rays) return rays.error();
    const Surface& surface = maps.surface();
    auto out = std::make_shared<OpenSky>();
    out->level = levelFor(maps);
    out->normals = normalsOver(out->level, surface);
    const std::vector<uint32_t> samples = samplesFor(out->level, surface);
    const float lift = liftOf(surface), reach = surface.bounds.diagonal();
    out->open.resize(samples.size());
    const bool whole = parallelUntil(
        0, samples.size(), [&] { return progress && !progress(0.3f); },
        [&](size_t n) {
          if (samples[n] == kNone) return;
          const Vec3 &normal = surface.normals[samples[n]],
                     from = surface.positions[samples[n]] + lift * normal;
          for (size_t w = 0; w < kSkyWays; ++w) {
            const Vec3& way = skyWays()[w];
            if (normal.dot(way) > 0 && !(*rays)->blocked({from, way}, reach)) out->open[n][w] = 255;
          }
        });
    if (!whole) return cancelledError();
    soften(out->level.graph(), out->open);
    return std::shared_ptr<const OpenSky>(std::move(out));
  });
}

}  // namespace juvenor
