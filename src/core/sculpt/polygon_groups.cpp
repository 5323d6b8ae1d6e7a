#include "core/sculpt/polygon_groups.h"

#include <algorithm>
#include <array>
#include <cstring>
#include <numeric>
#include <optional>
#include <unordered_map>

namespace juvenor {
namespace {

// Sets that grow together.
class Joined {
 public:
  explicit Joined(size_t count) : to_(count) { std::iota(to_.begin(), to_.end(), 0u); }
  uint32_t of(uint32_t i) {
    while (to_[i] != i) i = to_[i] = to_[to_[i]];
    return i;
  }
  void join(uint32_t a, uint32_t b) { to_[of(a)] = of(b); }
  std::vector<uint32_t> all() {
    std::vector<uint32_t> out(to_.size());
    for (uint32_t i = 0; i < out.size(); ++i) out[i] = of(i);
    return out;
  }

 private:
  std::vector<uint32_t> to_;
};

// A vertex at a place of the layout: what polygons on both sides of an edge have in common when the layout is
// not cut there.
struct Corner {
  uint32_t vertex;
  std::array<uint32_t, 2> bits;
  bool operator==(const Corner&) const = default;
};
struct CornerHash {
  size_t operator()(const Corner& c) const {
    uint64_t h = c.vertex;
    for (const uint32_t b : c.bits) h = (h ^ b) * 0x9e3779b97f4a7c15ULL;
    return h ^ (h >> 29);
  }
};

// Numbers of corners, one for all that are the same.
class Corners {
 public:
  explicit Corners(size_t count) { known_.reserve(count); }
  /// None where the corner has no finite place.
  std::optional<uint64_t> of(const Sculpt& sculpt, const UvSet& set, size_t corner) {
    const uint32_t place = set.corner[corner];
    if (place == kNone || !set.coordinates[place].allFinite()) return std::nullopt;
    Corner c{sculpt.corners[corner], {}};
    for (int axis = 0; axis < 2; ++axis) {
      const float value = set.coordinates[place][axis] + 0.f;  // −0 is 0
      std::memcpy(&c.bits[static_cast<size_t>(axis)], &value, sizeof value);
    }
    return known_.emplace(c, static_cast<uint32_t>(known_.size())).first->second;
  }

 private:
  std::unordered_map<Corner, uint32_t, CornerHash> known_;
};

}  // namespace

std::vector<uint32_t> shellsOfPolygons(const Sculpt& sculpt, std::span<const uint32_t> placeOf) {
  const uint32_t places = placeOf.empty() ? 0 : *std::ranges::max_element(placeOf) + 1;
  Joined joined(places);
  for (size_t p = 0; p < sculpt.polygonCount(); ++p)
    for (const uint32_t v : sculpt.polygon(p)) joined.join(placeOf[v], placeOf[sculpt.polygon(p).front()]);
  std::vector<uint32_t> out(sculpt.polygonCount());
  for (size_t p = 0; p < out.size(); ++p) out[p] = joined.of(placeOf[sculpt.polygon(p).front()]);
  return out;
}

std::vector<uint32_t> islandsOfPolygons(const Sculpt& sculpt, const UvSet& set) {
  Corners corners(sculpt.polygonCount());
  std::unordered_map<uint64_t, uint32_t> edges;
  edges.reserve(2 * sculpt.polygonCount());
  Joined joined(sculpt.polygonCount());
  std::optional<uint32_t> without;
  std::vector<uint64_t> at;
  for (uint32_t p = 0; p < sculpt.polygonCount(); ++p) {
    at.clear();
    for (size_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c)
      if (const auto corner = corners.of(sculpt, set, c)) at.push_back(*corner);
    if (at.size() < sculpt.polygon(p).size()) {
      joined.join(p, without.value_or(p));
      without = p;
      continue;
    }
    for (size_t k = 0; k < at.size(); ++k) {
      const auto [low, high] = std::minmax(at[k], at[(k + 1) % at.size()]);
      const auto [edge, fresh] = edges.emplace(low << 32 | high, p);
      if (!fresh && sculpt.polygonPart[edge->second] == sculpt.polygonPart[p]) joined.join(p, edge->second);
    }
  }
  return joined.all();
}

}  // namespace juvenor
