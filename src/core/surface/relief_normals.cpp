#include "core/surface/relief_normals.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <numeric>

namespace juvenor {
namespace {

struct Heights {
  const ScalarField& field;
  float level, unit;

  float at(uint32_t sample) const { return (static_cast<float>(field.at(sample)[0]) - level) * unit; }
};

Vec3 bentNormal(const Surface& surface, const Heights& heights, uint32_t s) {
  const Vec3 &n = surface.normals[s], u = n.unitOrthogonal(), v = n.cross(u);
  const float here = heights.at(s);
  // the normal equations of the slope (a along u, b along v), each neighbour by the inverse square of its way
  float uu = 0, uv = 0, vv = 0, uh = 0, vh = 0;
  for (const uint32_t other : surface.neighborsOf(s)) {
    const Vec3 way = surface.positions[other] - surface.positions[s];
    const float x = way.dot(u), y = way.dot(v), length2 = x * x + y * y;
    if (!(length2 > 0)) continue;
    const float w = 1 / length2, h = heights.at(other) - here;
    uu += w * x * x;
    uv += w * x * y;
    vv += w * y * y;
    uh += w * x * h;
    vh += w * y * h;
  }
  // neighbours in one line say nothing of the slope across it
  const float least = 1e-3f * (uu + vv);
  uu += least;
  vv += least;
  const float determinant = uu * vv - uv * uv;
  if (!(determinant > 0)) return n;
  const float a = (uh * vv - vh * uv) / determinant, b = (vh * uu - uh * uv) / determinant;
  return (n - a * u - b * v).normalized();
}

enum class Touch : char { No, Rim, Whole };

}  // namespace

ReliefNormals::ReliefNormals(std::shared_ptr<const Surface> surface) : surface_(std::move(surface)) {}

void ReliefNormals::update(const ScalarField& relief, uint16_t level, float unit,
                           std::span<const uint32_t> changed) {
  if (!any() && std::ranges::none_of(changed, [&](uint32_t c) { return relief.chunk(c) != nullptr; })) return;
  const Surface& surface = *surface_;
  const size_t count = chunkCount(surface.size());
  chunks_.resize(count);
  std::vector<Touch> touched(count, Touch::No);
  for (const uint32_t c : changed) touched[c] = Touch::Whole;
  const auto samplesOf = [&](size_t c) {
    return std::pair(c * kChunkSize, std::min(surface.size(), (c + 1) * kChunkSize));
  };
  for (const uint32_t c : changed) {
    const auto [begin, end] = samplesOf(c);
    for (uint32_t i = surface.neighborStart[begin]; i < surface.neighborStart[end]; ++i) {
      Touch& beside = touched[surface.neighbors[i] / kChunkSize];
      if (beside == Touch::No) beside = Touch::Rim;
    }
  }
  std::vector<uint32_t> work;
  for (uint32_t c = 0; c < count; ++c)
    if (touched[c] != Touch::No) work.push_back(c);
  const Heights heights{relief, static_cast<float>(level), unit};
  tbb::parallel_for(size_t{0}, work.size(), [&](size_t k) {
    const uint32_t c = work[k];
    const auto [begin, end] = samplesOf(c);
    const Bent* before = chunks_[c].get();
    auto bent = std::make_shared<Bent>();
    if (before)
      *bent = *before;
    else
      std::copy(surface.normals.begin() + static_cast<std::ptrdiff_t>(begin),
                surface.normals.begin() + static_cast<std::ptrdiff_t>(end), bent->begin());
    for (size_t s = begin; s < end; ++s) {
      const auto around = surface.neighborsOf(s);
      // of a chunk beside those that changed only what looks across changes
      if (touched[c] == Touch::Rim &&
          std::ranges::none_of(around, [&](uint32_t n) { return touched[n / kChunkSize] == Touch::Whole; }))
        continue;
      (*bent)[s - begin] = bentNormal(surface, heights, static_cast<uint32_t>(s));
    }
    chunks_[c] = std::move(bent);
  });
}

ReliefNormals reliefNormals(std::shared_ptr<const Surface> surface, const ScalarField& relief, uint16_t level,
                            float unit) {
  ReliefNormals out(std::move(surface));
  std::vector<uint32_t> all(relief.chunkCount());
  std::iota(all.begin(), all.end(), 0);
  out.update(relief, level, unit, all);
  return out;
}

}  // namespace juvenor
