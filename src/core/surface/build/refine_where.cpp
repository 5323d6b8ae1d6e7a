#include "core/surface/build/refine_where.h"

#include <algorithm>
#include <functional>
#include <queue>

namespace juvenor {

std::vector<uint32_t> rangesWhere(size_t samples, const std::function<bool(size_t)>& holds) {
  std::vector<uint32_t> out;
  for (size_t s = 0; s < samples; ++s) {
    if (!holds(s)) continue;
    if (!out.empty() && out.back() == s)
      ++out.back();
    else
      out.insert(out.end(), {static_cast<uint32_t>(s), static_cast<uint32_t>(s + 1)});
  }
  return out;
}

std::vector<uint32_t> rangesOf(const ScalarField& field) {
  return rangesWhere(field.size(), [&](size_t s) { return field.at(s)[0] >= 32768; });
}

Result<std::vector<char>> marksOf(std::span<const uint32_t> ranges, size_t samples) {
  std::vector<char> out(samples, 0);
  if (ranges.size() % 2 != 0) return Error{"the points around which it adds come in pairs"};
  uint32_t before = 0;
  for (size_t i = 0; i < ranges.size(); i += 2) {
    if (ranges[i] < before || ranges[i + 1] <= ranges[i] || ranges[i + 1] > samples)
      return Error{"it adds points around others that are not there"};
    before = ranges[i + 1];
    std::fill(out.begin() + ranges[i], out.begin() + ranges[i + 1], 1);
  }
  return out;
}

std::vector<float> spacingsAround(const Surface& surface, const std::vector<char>& marks, float spacing) {
  constexpr float kGrowth = 0.5f;
  // beyond, no edge is so long
  const float most = 8 * surface.spacing;
  std::vector<float> out(surface.size(), std::numeric_limits<float>::infinity());
  using Reached = std::pair<float, uint32_t>;
  std::priority_queue<Reached, std::vector<Reached>, std::greater<>> open;
  for (uint32_t s = 0; s < marks.size(); ++s) {
    if (!marks[s]) continue;
    out[s] = spacing;
    if (std::ranges::any_of(surface.neighborsOf(s), [&](uint32_t n) { return !marks[n]; }))
      open.push({spacing, s});
  }
  while (!open.empty()) {
    const auto [here, s] = open.top();
    open.pop();
    if (here > out[s]) continue;
    for (const uint32_t n : surface.neighborsOf(s)) {
      const float there = here + kGrowth * (surface.positions[n] - surface.positions[s]).norm();
      if (!(there < out[n]) || there > most) continue;
      out[n] = there;
      open.push({there, n});
    }
  }
  return out;
}

}  // namespace juvenor
