#include "core/layers/sources/light_over.h"

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr float kLeastLight = 0.15f;
constexpr float kReach = 1.5f;  // of a node, in widths of a cell

std::string keyOf(const WayLight& light) {
  return "light over " + std::string(reinterpret_cast<const char*>(light.data()), sizeof(light));
}

}  // namespace

std::array<float, kSkyWays> reachOf(const OpenSky& sky, uint32_t sample, const Vec3& normal) {
  const auto& open = sky.open[sky.level.over(sample)];
  std::array<float, kSkyWays> out;
  for (size_t w = 0; w < kSkyWays; ++w)
    out[w] = static_cast<float>(open[w]) / 255 * std::max(0.f, normal.dot(skyWays()[w]));
  return out;
}

LightOver::LightOver(const WayLight& light, std::shared_ptr<const OpenSky> sky)
    : sky_(std::move(sky)), vectors_(sky_->open.size()) {
  parallel(vectors_.size(), [&](size_t n) {
    Vectors sum = Vectors::Zero();
    for (size_t w = 0; w < kSkyWays; ++w) {
      const float open = static_cast<float>(sky_->open[n][w]) / 255;
      if (open == 0 || sky_->normals[n].dot(skyWays()[w]) <= 0) continue;
      for (size_t c = 0; c < 3; ++c)
        sum.row(static_cast<Eigen::Index>(c)) += open * light[c][w] * skyWays()[w].transpose();
    }
    vectors_[n] = sum;
  });
}

std::array<float, 3> LightOver::at(uint32_t sample, const Vec3& place, const Vec3& normal) const {
  const SkinGraph& graph = sky_->level.graph();
  const uint32_t node = sky_->level.over(sample);
  Vec3 light = vectors_[node] * normal;
  if (!sky_->level.nodeOf.empty()) {
    const float reach = kReach * sky_->level.cell();
    const auto near = [&](uint32_t n) {
      const float u = 1 - (graph.positions[n] - place).squaredNorm() / (reach * reach);
      return u > 0 ? u * u : 0;
    };
    float all = near(node) + 1e-6f;
    light *= all;
    for (uint32_t i = graph.start[node]; i < graph.start[node + 1]; ++i) {
      const uint32_t n = graph.neighbors[i];
      const float by = near(n);
      if (by == 0) continue;
      light += by * (vectors_[n] * normal);
      all += by;
    }
    light /= all;
  }
  return {std::max(kLeastLight, light.x()), std::max(kLeastLight, light.y()),
          std::max(kLeastLight, light.z())};
}

Result<LightOverPointer> lightOver(const Slide& slide, SurfaceMaps& maps, const Progress& progress) {
  if (!slide.tone.light || slide.tone.even == 0) return LightOverPointer();
  return maps.derived<LightOver>(keyOf(*slide.tone.light), [&]() -> Result<LightOverPointer> {
    auto sky = openSky(maps, progress);
    if (!sky) return sky.error();
    return std::make_shared<const LightOver>(*slide.tone.light, *sky);
  });
}

}  // namespace juvenor
