#include "core/surface/relief_normals.h"

#include <algorithm>
#include <numeric>

#include "core/parallel.h"

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
  means_.resize(count);
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
  parallelEach(work.size(), [&](size_t k) {
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
    means_[c] = meansOf(*bent, end - begin);
    chunks_[c] = std::move(bent);
  });
}

// Of 4096 samples 1024 means of four, 256 of those, and so on; at the end of the surface of those there are.
std::shared_ptr<const ReliefNormals::Means> ReliefNormals::meansOf(const Bent& bent, size_t samples) {
  auto out = std::make_shared<Means>();
  size_t to = 0;
  for (int level = 1; level <= kLevels; ++level)
    for (size_t block = 0; block < kChunkSize >> 2 * level; ++block) {
      const size_t begin = block << 2 * level, end = std::min(samples, (block + 1) << 2 * level);
      Vec3 sum = Vec3::Zero();
      for (size_t s = begin; s < end; ++s) sum += bent[s];
      (*out)[to++] = begin < end ? Vec3(sum / static_cast<float>(end - begin)) : Vec3(Vec3::UnitZ());
    }
  return out;
}

Vec3 ReliefNormals::meanAt(size_t sample, float level) const {
  const size_t c = sample / kChunkSize, within = sample % kChunkSize;
  if (!(level > 0) || chunks_.empty() || !chunks_[c]) return at(sample);
  const float up = std::min(level, static_cast<float>(kLevels));
  const int below = std::min(static_cast<int>(up), kLevels - 1);
  const auto mean = [&](int l) -> const Vec3& {
    if (l == 0) return (*chunks_[c])[within];
    // as many as lie on all levels before it
    const size_t before = (kChunkSize - (kChunkSize >> 2 * (l - 1))) / 3;
    return (*means_[c])[before + (within >> 2 * l)];
  };
  const float t = up - static_cast<float>(below);
  return (1 - t) * mean(below) + t * mean(below + 1);
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
