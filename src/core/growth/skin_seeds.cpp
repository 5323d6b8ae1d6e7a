// Blue noise by dart throwing with a distance that shrinks by √2 from round to round (McCool and Fiume 1992),
// each round over as many candidates as suit its distance. Which darts of a round stay follows from random
// priorities: one stays when all it conflicts with that come before it are gone, so that near ones are
// settled independently of far ones, on all cores, and always alike (Wei 2008; Bowers, Wang, Wei, Maletz
// 2010).
#include "core/growth/skin_seeds.h"

#include <fmt/format.h>
#include <tbb/parallel_sort.h>

#include <bit>
#include <cmath>
#include <limits>
#include <numeric>
#include <tuple>

#include "core/growth/skin_lines.h"
#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

constexpr double kMost = 2e6;
// Lines a distance: four candidates on a square of the distance leave hardly a gap.
constexpr float kLines = 2;
// What darts reach with that many candidates, seeds on a square of the distance; measured on planes and
// heads.
constexpr float kFilled = 0.535f;

using Cell = std::array<int32_t, 3>;

// Distances are no finer than a hundred thousandth of the whole.
int32_t whole(float cells) {
  return static_cast<int32_t>(floorToWhole(cells));
}

// The bits of three coordinates by turns: near in space is near in order.
uint64_t interleaved(const Cell& cell) {
  const auto spread = [](uint64_t v) {
    v &= 0x1fffff;
    v = (v | v << 32) & 0x1f00000000ffffull;
    v = (v | v << 16) & 0x1f0000ff0000ffull;
    v = (v | v << 8) & 0x100f00f00f00f00full;
    v = (v | v << 4) & 0x10c30c30c30c30c3ull;
    return (v | v << 2) & 0x1249249249249249ull;
  };
  constexpr int32_t kMiddle = 1 << 20;
  const auto at = [](int32_t v) { return static_cast<uint64_t>(v + kMiddle); };
  return spread(at(cell[0])) | spread(at(cell[1])) << 1 | spread(at(cell[2])) << 2;
}

struct Candidate {
  Vec3 position, normal;
  uint32_t sample, part;
  float turn;  // 0…1: the smaller, the earlier
  uint64_t draw;
  uint64_t cell;  // of the finest grid, interleaved

  // In one order whatever the threads: a line may meet a fold twice, with the same draw.
  auto order() const { return std::tuple(turn, draw, position.x(), position.y(), position.z()); }
  bool before(const Candidate& o) const { return order() < o.order(); }
};

// In the order of space.
Result<std::vector<Candidate>> candidatesOf(const Surface& surface, float distance, float part, uint32_t seed,
                                            const Progress& progress) {
  const auto hits = skinLines(surface, distance / kLines, seed, progress, part);
  if (!hits) return hits.error();
  std::vector<Candidate> out(hits->size());
  parallel(out.size(), [&](size_t i) {
    const LineHit& hit = (*hits)[i];
    Candidate& c = out[i];
    c.position = hit.position;
    const Triangle& t = surface.triangles[hit.triangle];
    c.sample = *std::ranges::min_element(
        t, {}, [&](uint32_t s) { return (surface.positions[s] - hit.position).squaredNorm(); });
    c.normal = surface.normals[c.sample];
    c.part = surface.parts[c.sample];
    c.draw = hit.draw;
    c.turn = turnOf(hit.draw);
    const Vec3 at = (hit.position - surface.bounds.center()) / distance;
    c.cell = interleaved({whole(at.x()), whole(at.y()), whole(at.z())});
  });
  tbb::parallel_sort(out.begin(), out.end(), [](const Candidate& a, const Candidate& b) {
    return a.cell != b.cell ? a.cell < b.cell : a.before(b);
  });
  // a line right through a side meets both triangles there
  const auto doubles = std::ranges::unique(out, {}, &Candidate::order);
  out.erase(doubles.begin(), doubles.end());
  return out;
}

// One round: the candidates that take part, by cells at least as wide as its distance.
class Round {
 public:
  Round(const std::vector<Candidate>& all, std::span<const uint32_t> taking, const Surface& surface,
        float distance, float finest)
      : all_(all), taking_(taking), middle_(surface.bounds.center()), distance_(distance), finest_(finest) {
    while (finest * static_cast<float>(1 << level_) < distance && level_ < 20) ++level_;
    width_ = finest * static_cast<float>(1 << level_);
    size_t cells = 0;
    for (size_t i = 0; i < taking.size(); ++i) cells += i == 0 || keyAt(i) != keyAt(i - 1);
    slots_.resize(std::bit_ceil(2 * cells + 1));
    for (size_t i = 0; i < taking.size(); ++i)
      if (i == 0 || keyAt(i) != keyAt(i - 1)) slotFor(keyAt(i)) = {keyAt(i), static_cast<uint32_t>(i), true};
  }

  /// Never: nearer to one that stays than any round allows.
  enum State : uint8_t { Open, Stays, Gone, Never };

  /// What becomes of a candidate as things stand with those around it.
  template <class StateOf>
  State stateOf(uint32_t which, const StateOf& states) const {
    const Candidate& own = all_[which];
    State out = Stays;
    // true: it goes, whatever the others say
    const auto meets = [&](uint64_t key) {
      for (size_t i = firstOf(key); i < taking_.size() && keyAt(i) == key; ++i) {
        const uint32_t other = taking_[i];
        const State state = states(other);
        if (state >= Gone || other == which || !conflict(own, all_[other], distance_)) continue;
        if (state == Stays) out = conflict(own, all_[other], finest_) ? Never : Gone;
        if (out >= Gone) return true;
        if (all_[other].before(own)) out = Open;
      }
      return false;
    };
    // what it conflicts with is most often in its own cell
    const uint64_t home = coarse(own.cell);
    if (meets(home)) return out;
    const Vec3 at = (own.position - middle_) / width_;
    const float reach = distance_ / width_;
    const Cell low = cellOf(at.array() - reach), high = cellOf(at.array() + reach);
    for (int32_t z = low[2]; z <= high[2]; ++z)
      for (int32_t y = low[1]; y <= high[1]; ++y)
        for (int32_t x = low[0]; x <= high[0]; ++x)
          if (const uint64_t key = interleaved({x, y, z}); key != home && meets(key)) return out;
    return out;
  }

 private:
  struct Slot {
    uint64_t key = 0;
    uint32_t first = 0;
    bool used = false;
  };

  uint64_t keyAt(size_t i) const { return coarse(all_[taking_[i]].cell); }
  // Cells of the finest grid are counted from the middle, and so are wider ones.
  uint64_t coarse(uint64_t cell) const { return cell >> (3 * level_); }
  Cell cellOf(const Eigen::Array3f& at) const {
    // interleaved() adds the middle of the finest grid; a wider one has it elsewhere
    const int32_t shift = (1 << 20 >> level_) - (1 << 20);
    return {whole(at.x()) + shift, whole(at.y()) + shift, whole(at.z()) + shift};
  }
  static bool conflict(const Candidate& a, const Candidate& b, float distance) {
    return (a.position - b.position).squaredNorm() < distance * distance && a.part == b.part &&
           a.normal.dot(b.normal) > 0;
  }
  size_t startOf(uint64_t key) const { return (key * 0x9e3779b97f4a7c15ull >> 20) & (slots_.size() - 1); }
  Slot& slotFor(uint64_t key) {
    size_t at = startOf(key);
    while (slots_[at].used) at = (at + 1) & (slots_.size() - 1);
    return slots_[at];
  }
  size_t firstOf(uint64_t key) const {
    for (size_t at = startOf(key); slots_[at].used; at = (at + 1) & (slots_.size() - 1))
      if (slots_[at].key == key) return slots_[at].first;
    return taking_.size();
  }

  const std::vector<Candidate>& all_;
  std::span<const uint32_t> taking_;
  Vec3 middle_;
  float distance_, finest_, width_ = 1;
  int level_ = 0;
  std::vector<Slot> slots_;
};

// Throws the darts of one round and gives those that stay for the first time.
std::vector<uint32_t> thrownIn(const Round& round, std::span<const uint32_t> taking,
                               std::vector<std::atomic<uint8_t>>& states) {
  const auto stateOf = [&](uint32_t c) {
    return static_cast<Round::State>(states[c].load(std::memory_order_relaxed));
  };
  std::vector<uint32_t> open, out;
  for (const uint32_t c : taking)
    if (stateOf(c) != Round::Stays) {
      states[c] = Round::Open;
      open.push_back(c);
    }
  while (!open.empty()) {
    parallel(
        open.size(),
        [&](size_t i) { states[open[i]].store(round.stateOf(open[i], stateOf), std::memory_order_relaxed); },
        1024);
    std::vector<uint32_t> left;
    for (const uint32_t c : open) {
      if (stateOf(c) == Round::Stays) out.push_back(c);
      if (stateOf(c) == Round::Open) left.push_back(c);
    }
    open = std::move(left);
  }
  return out;
}

double areaOf(const Surface& surface) {
  double area = 0;
  for (const float a : surface.areas) area += static_cast<double>(a);
  return area;
}

// The rounds whose distance is no finer than `least`.
int roundsWith(float distance, float least) {
  int skipped = 0;
  while (skipped < 40 && distance * std::exp2(0.5f * static_cast<float>(skipped)) < least) ++skipped;
  return skipped;
}

Result<SkinSeedsPointer> thrown(const Surface& surface, float distance, int skipped, uint32_t seed,
                                const Progress& progress) {
  const float upTo = std::exp2(static_cast<float>(-skipped));
  const auto candidates =
      candidatesOf(surface, distance, upTo, seed, [&](float f) { return report(progress, 0.4f * f); });
  if (!candidates) return candidates.error();
  const float widest = std::max(surface.bounds.diagonal(), distance);
  const int all = std::max(skipped, static_cast<int>(std::ceil(2 * std::log2(widest / distance)))),
            rounds = all - skipped;
  // of all seeds there are after a round
  const auto partAfter = [&](int round) { return std::exp2(static_cast<float>(round - all)); };
  std::vector<std::vector<uint32_t>> taking(static_cast<size_t>(rounds) + 1);
  taking.back().resize(candidates->size());
  std::iota(taking.back().begin(), taking.back().end(), 0);
  for (int round = rounds - 1; round >= 0; --round)
    std::ranges::copy_if(taking[static_cast<size_t>(round) + 1],
                         std::back_inserter(taking[static_cast<size_t>(round)]),
                         [&](uint32_t c) { return (*candidates)[c].turn <= partAfter(round); });
  std::vector<std::atomic<uint8_t>> states(candidates->size());
  auto out = std::make_shared<SkinSeeds>();
  for (int round = 0; round <= rounds; ++round) {
    const float part = partAfter(round);
    if (!report(progress, 0.4f + 0.3f * part / upTo)) return cancelledError();
    auto& own = taking[static_cast<size_t>(round)];
    std::erase_if(own, [&](uint32_t c) { return states[c] == Round::Never; });
    const Round thrownNow(*candidates, own, surface, distance / std::sqrt(part), distance);
    for (const uint32_t c : thrownIn(thrownNow, own, states)) {
      const Candidate& stays = (*candidates)[c];
      Draws draws(stays.draw);
      const float within = draws.unit();
      const float rank = round == 0 ? part * within : 0.5f * part * (1 + within);
      out->seeds.push_back(
          {stays.position, stays.normal, stays.sample, static_cast<uint32_t>(draws.bits()), rank});
    }
  }
  tbb::parallel_sort(out->seeds.begin(), out->seeds.end(), [](const SkinSeed& a, const SkinSeed& b) {
    const auto order = [](const SkinSeed& s) {
      return std::tuple(s.rank, s.key, s.position.x(), s.position.y(), s.position.z());
    };
    return order(a) < order(b);
  });
  // rounds do not fill the skin just alike: counted, a part is that part
  out->density = seedDensity(distance);
  const double whole = areaOf(surface) * static_cast<double>(out->density);
  for (size_t i = 0; i < out->seeds.size(); ++i)
    out->seeds[i].rank = static_cast<float>(static_cast<double>(i) / whole);
  out->upTo = static_cast<float>(static_cast<double>(out->seeds.size()) / whole);
  return SkinSeedsPointer(std::move(out));
}

// What memory, and numbers of cells, allow; in steps of two, so that forms that are nearly the same agree.
float allowed(const Surface& surface, float distance) {
  const double area = areaOf(surface);
  const float least = std::max(
      {static_cast<float>(std::sqrt(kFilled * area / kMost)), 1e-5f * surface.bounds.diagonal(), 1e-20f});
  float out = std::max(distance, 1e-20f);
  while (out < least) out *= 2;
  return out;
}

struct Wish {
  float distance;
  int skipped;
  std::string key;
};
Wish wishFor(const SurfaceMaps& maps, float distance, uint32_t seed, float least) {
  Wish out{allowed(maps.surface(), distance), 0, {}};
  out.skipped = roundsWith(out.distance, least);
  out.key = fmt::format("seeds {} {} {}", out.distance, out.skipped, seed);
  return out;
}

}  // namespace

float seedDensity(float distance) {
  return kFilled / (distance * distance);
}

float seedDistance(float density) {
  return std::sqrt(kFilled / density);
}

Result<SkinSeedsPointer> skinSeeds(SurfaceMaps& maps, float distance, uint32_t seed, const Progress& progress,
                                   float least) {
  const Wish wish = wishFor(maps, distance, seed, least);
  return maps.derived<SkinSeeds>(wish.key, [&]() -> Result<SkinSeedsPointer> {
    return thrown(maps.surface(), wish.distance, wish.skipped, seed, progress);
  });
}

bool hasSkinSeeds(SurfaceMaps& maps, float distance, uint32_t seed, float least) {
  return maps.hasDerived(wishFor(maps, distance, seed, least).key);
}

}  // namespace juvenor
