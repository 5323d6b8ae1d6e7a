#include "core/growth/skin_cells.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <utility>

#include "core/cell_members.h"
#include "core/growth/skin_lines.h"
#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

// The area of a cell of even ones by its width and length: a hexagon's.
constexpr float kHexagon = 0.8660254f;
// Nodes across the finest cell, at least; fewer where there would be very many.
constexpr float kNodesAcross = 4.5f, kFewerAcross = 3;
constexpr size_t kManyNodes = 700'000;
// The cosine beyond which skin has turned away from a cell: it is its own only where no other one is.
constexpr float kTurnedAway = 0.1f;
constexpr float kAway = 1e6f;
// Lloyd's step is lengthened: it closes in on even cells in half the rounds.
constexpr float kLonger = 1.5f;

uint32_t nearestNode(const CellGround& ground, std::span<const uint32_t> nodes, const Vec3& place) {
  return *std::ranges::min_element(
      nodes, {}, [&](uint32_t n) { return (ground.level.graph().positions[n] - place).squaredNorm(); });
}

// Lies where its node says, and as wide.
void lieOn(const CellGround& ground, const CellSetting& setting, float part, SkinCell& cell) {
  cell.normal = ground.normals[cell.node];
  const Vec3& along = ground.along[cell.node];
  cell.along = normalizedOr(along - along.dot(cell.normal) * cell.normal, cell.normal.unitOrthogonal());
  cell.width = part * ground.widths[cell.node];
  cell.length = setting.stretch * cell.width;
}

// What one class of cells wants: so many on a square unit where the width is 1.
float wantedDensity(const CellSetting& setting) {
  return 1 / (kHexagon * setting.stretch);
}

// Infinite where there are none.
float finestOf(const CellGround& ground) {
  float out = std::numeric_limits<float>::infinity();
  for (const float w : ground.widths)
    if (w > 0) out = std::min(out, w);
  return out;
}

struct Sown {
  std::vector<SkinCell> cells;
  std::vector<float> parts;  // of the width at their place
};

// Seeds as many as their place wants, wherever lines meet the skin.
Result<Sown> fallenCells(const Surface& surface, const CellGround& ground, const CellSetting& setting,
                         const Progress& progress) {
  Sown out;
  const float finest = finestOf(ground);
  if (!std::isfinite(finest)) return out;
  // of a sculpt as large as a town and pores as fine as a hair there are only so many
  constexpr double kMostFallen = 2e6;
  double area = 0;
  for (const float a : surface.areas) area += static_cast<double>(a);
  const float most = std::min(wantedDensity(setting) / (finest * finest),
                              static_cast<float>(kMostFallen / std::max(area, 1e-30)));
  auto hits = skinLines(surface, 1 / std::sqrt(most), setting.seed, progress);
  if (!hits) return hits.error();
  std::ranges::sort(*hits, {}, [](const LineHit& h) { return std::pair(h.draw, h.triangle); });
  for (const LineHit& hit : *hits) {
    const uint32_t sample = surface.triangles[hit.triangle][0], node = ground.level.over(sample);
    const float width = ground.widths[node];
    if (!(width > 0) || turnOf(hit.draw) >= wantedDensity(setting) / (width * width * most)) continue;
    SkinCell cell{hit.position, surface.normals[sample],        Vec3::Zero(), 0, 0,
                  node,         static_cast<uint32_t>(hit.draw)};
    out.parts.push_back(1);
    lieOn(ground, setting, 1, cell);
    out.cells.push_back(cell);
  }
  return out;
}

// Seeds as many as their place wants: in the order in which each beginning is spread evenly.
Result<Sown> thrownCells(SurfaceMaps& maps, const CellGround& ground, const CellSetting& setting,
                         const Progress& progress) {
  const float finest = finestOf(ground);
  Sown out;
  if (!std::isfinite(finest)) return out;
  const bool mixed = setting.large > 0;
  const float least = mixed ? setting.small * finest : finest;
  const float most = wantedDensity(setting) / (least * least);
  const float apart = std::exp2(std::floor(std::log2(seedDistance(most))));
  const auto seeds = skinSeeds(maps, apart, setting.seed, progress, 0.5f * ground.level.cell());
  if (!seeds) return seeds.error();
  const auto& list = (*seeds)->seeds;
  for (const SkinSeed& seed : list) {
    const uint32_t node = ground.level.over(seed.sample);
    const float width = ground.widths[node];
    if (!(width > 0)) continue;
    const float share = wantedDensity(setting) / (width * width * (*seeds)->density);
    const bool large = !mixed || seed.rank < setting.large * share;
    if (seed.rank >= (mixed && !large ? share / (setting.small * setting.small) : share)) continue;
    SkinCell cell{seed.position, seed.normal, Vec3::Zero(), 0, 0, node, seed.key};
    out.parts.push_back(large ? 1.f : setting.small);
    lieOn(ground, setting, out.parts.back(), cell);
    out.cells.push_back(cell);
  }
  return out;
}

float measureTo(const CellGround& ground, const SkinCell& cell, uint32_t node) {
  const float far2 = cell.measureTo(ground.level.graph().positions[node]);
  return ground.normals[node].dot(cell.normal) < kTurnedAway ? far2 + kAway : far2;
}

// Each node goes over to the cell of a neighbour that is nearer than its own: so borders move along the skin
// and never over a gap.
class Borders {
 public:
  Borders(const CellGround& ground, std::span<const SkinCell> cells, std::vector<uint32_t>& owners)
      : ground_(ground), cells_(cells), owners_(owners), asked_(owners.size(), 1), ask_(owners.size(), 0) {}

  /// One step of all. True when any moved.
  bool move() {
    next_ = owners_;
    std::atomic<bool> moved = false;
    parallel(
        owners_.size(),
        [&](size_t n) {
          // where nothing around has moved since it was asked it would say the same again
          if (!std::exchange(asked_[n], char{0})) return;
          const uint32_t own = nearestAround(static_cast<uint32_t>(n));
          if (own == owners_[n]) return;
          next_[n] = own;
          moved.store(true, std::memory_order_relaxed);
          askAround(static_cast<uint32_t>(n));
        },
        4096);
    owners_.swap(next_);
    asked_.swap(ask_);
    return moved;
  }

 private:
  uint32_t nearestAround(uint32_t node) const {
    const SkinGraph& graph = ground_.level.graph();
    uint32_t own = owners_[node], asked = kNone;
    float best = -1;  // not known yet
    if (!(ground_.widths[node] > 0)) return own;
    for (uint32_t e = graph.start[node]; e < graph.start[node + 1]; ++e) {
      const uint32_t other = owners_[graph.neighbors[e]];
      if (other == own || other == asked || other == kNone) continue;
      asked = other;
      if (best < 0)
        best = own == kNone ? std::numeric_limits<float>::max() : measureTo(ground_, cells_[own], node);
      const float measure = measureTo(ground_, cells_[other], node);
      if (measure > best || (measure == best && other > own)) continue;
      best = measure;
      own = other;
    }
    return own;
  }
  void askAround(uint32_t node) {
    const SkinGraph& graph = ground_.level.graph();
    const auto ask = [&](uint32_t n) { std::atomic_ref<char>(ask_[n]).store(1, std::memory_order_relaxed); };
    ask(node);
    for (uint32_t e = graph.start[node]; e < graph.start[node + 1]; ++e) ask(graph.neighbors[e]);
  }

  const CellGround& ground_;
  std::span<const SkinCell> cells_;
  std::vector<uint32_t>& owners_;
  std::vector<uint32_t> next_;
  std::vector<char> asked_, ask_;
};

// Where a cell's neighbours would have it in rows: six around, two of them beside it.
Vec2 rowShift(const SkinCell& cell, std::span<const uint32_t> around, std::span<const SkinCell> cells) {
  Vec2 sum = Vec2::Zero();
  float count = 0;
  for (const uint32_t other : around) {
    const Vec2 there = cell.placeOf(cells[other].position);
    const float far = there.norm();
    if (!(far > 0) || far > 1.8f) continue;
    constexpr float kSixth = 1.04719755f;
    const float angle =
        std::round((std::atan2(there.y(), there.x()) - kSixth / 2) / kSixth) * kSixth + kSixth / 2;
    const float apart = 0.5f * (1 + cells[other].width / cell.width);
    sum += there - apart * Vec2(std::cos(angle), std::sin(angle));
    count += 1;
  }
  return count > 0 ? Vec2(sum / count) : sum;
}

// The nodes of each cell, and, where that is asked for, the cells around it.
struct Standing {
  CellMembers members;
  std::vector<std::vector<uint32_t>> around;
};

Standing standingOf(const CellGround& ground, size_t cells, std::span<const uint32_t> owners,
                    bool neighbors) {
  const SkinGraph& graph = ground.level.graph();
  Standing out;
  // the last one gathers what belongs to none
  std::vector<uint32_t> of(owners.begin(), owners.end());
  std::ranges::replace(of, kNone, static_cast<uint32_t>(cells));
  out.members = CellMembers(of, cells + 1);
  out.around.resize(cells);
  if (!neighbors) return out;
  parallel(
      cells,
      [&](size_t c) {
        for (const uint32_t n : out.members.of(c))
          for (uint32_t e = graph.start[n]; e < graph.start[n + 1]; ++e) {
            const uint32_t other = owners[graph.neighbors[e]];
            if (other != c && other != kNone &&
                std::ranges::find(out.around[c], other) == out.around[c].end())
              out.around[c].push_back(other);
          }
        std::ranges::sort(out.around[c]);
      },
      256);
  return out;
}

// A step toward the middle of what a cell owns, and toward its place in a row.
SkinCell moved(const CellGround& ground, const CellSetting& setting, const Sown& sown, size_t c,
               std::span<const uint32_t> own, std::span<const uint32_t> around) {
  const SkinCell& cell = sown.cells[c];
  const SkinGraph& graph = ground.level.graph();
  Vec2 middle = Vec2::Zero();
  Vec3 normal = Vec3::Zero();
  float area = 0;
  for (const uint32_t n : own) {
    middle += graph.areas[n] * cell.placeOf(graph.positions[n]);
    normal += graph.areas[n] * ground.normals[n];
    area += graph.areas[n];
  }
  Vec2 shift = kLonger * middle / area;
  if (setting.rows > 0)
    shift = (1 - 0.7f * setting.rows) * shift + 0.8f * setting.rows * rowShift(cell, around, sown.cells);
  if (const float far = shift.norm(); far > 0.5f) shift *= 0.5f / far;
  Vec3 place = cell.position + shift.x() * cell.length * cell.along +
               shift.y() * cell.width * cell.normal.cross(cell.along);
  SkinCell out = cell;
  out.node = nearestNode(ground, own, place);
  const Vec3& up = ground.normals[out.node];
  place -= (place - graph.positions[out.node]).dot(up) * up;
  lieOn(ground, setting, sown.parts[c], out);
  out.position = place;
  out.normal = normalizedOr(normal, out.normal);
  out.along = normalizedOr(out.along - out.along.dot(out.normal) * out.normal, out.normal.unitOrthogonal());
  return out;
}

// Cells that own nothing are lost.
void dropEmpty(Sown& sown, std::vector<uint32_t>& owners) {
  std::vector<uint32_t> number(sown.cells.size(), kNone);
  for (const uint32_t o : owners)
    if (o != kNone) number[o] = 0;
  uint32_t kept = 0;
  for (size_t c = 0; c < number.size(); ++c) {
    if (number[c] == kNone) continue;
    number[c] = kept;
    sown.cells[kept] = sown.cells[c];
    sown.parts[kept++] = sown.parts[c];
  }
  if (kept == number.size()) return;
  sown.cells.resize(kept);
  sown.parts.resize(kept);
  for (uint32_t& o : owners)
    if (o != kNone) o = number[o];
}

// Each cell owns what is nearest to it.
std::vector<uint32_t> firstOwners(const CellGround& ground, Sown& sown) {
  std::vector<uint32_t> owners(ground.level.graph().size(), kNone);
  for (uint32_t c = 0; c < sown.cells.size(); ++c) owners[sown.cells[c].node] = c;
  // where two were sown on one node only one is left
  dropEmpty(sown, owners);
  constexpr int kMostSweeps = 1000;
  Borders borders(ground, sown.cells, owners);
  for (int i = 0; i < kMostSweeps && borders.move(); ++i) {
  }
  // and one that others are nearer to everywhere is none
  dropEmpty(sown, owners);
  return owners;
}

SkinCells together(const CellGround& ground, Sown sown, std::vector<uint32_t> owners) {
  SkinCells out;
  const Standing standing = standingOf(ground, sown.cells.size(), owners, true);
  out.cells = std::move(sown.cells);
  out.owners = std::move(owners);
  out.start.push_back(0);
  for (const auto& list : standing.around) {
    out.neighbors.insert(out.neighbors.end(), list.begin(), list.end());
    out.start.push_back(static_cast<uint32_t>(out.neighbors.size()));
  }
  return out;
}

}  // namespace

CellGround cellGround(const Surface& surface, const std::shared_ptr<const SkinLadder>& ladder,
                      std::span<const Vec3> directions, std::span<const float> widths, float finest) {
  CellGround out{skinLevel(ladder, finest / kNodesAcross), {}, {}, {}};
  if (out.level.graph().size() > kManyNodes) out.level = skinLevel(ladder, finest / kFewerAcross);
  out.normals = normalsOver(out.level, surface);
  const size_t nodes = out.level.graph().size();
  out.along.assign(nodes, Vec3::Zero());
  out.widths.assign(nodes, 0);
  std::vector<float> areas(nodes, 0);
  for (uint32_t s = 0; s < surface.size(); ++s) {
    const uint32_t n = out.level.over(s);
    // a line may be told by either of its directions
    const float way = out.along[n].dot(directions[s]) < 0 ? -1.f : 1.f;
    out.along[n] += way * surface.areas[s] * directions[s];
    if (!(widths[s] > 0)) continue;  // as wide as where there are any
    out.widths[n] += surface.areas[s] * widths[s];
    areas[n] += surface.areas[s];
  }
  for (size_t n = 0; n < nodes; ++n) {
    out.along[n] = normalizedOr(out.along[n], out.normals[n].unitOrthogonal());
    if (areas[n] > 0) out.widths[n] /= areas[n];
  }
  return out;
}

Result<SkinCells> skinCells(SurfaceMaps& maps, const CellGround& ground, const CellSetting& setting,
                            const Progress& progress) {
  constexpr int kBorderSweeps = 2;  // of borders after a step: it is no longer than half a cell
  const Progress sowing = [&](float f) { return report(progress, 0.4f * f); };
  auto sown = setting.thrown ? thrownCells(maps, ground, setting, sowing)
                             : fallenCells(maps.surface(), ground, setting, sowing);
  if (!sown) return sown.error();
  std::vector<uint32_t> owners = firstOwners(ground, *sown);
  for (int round = 0; round < setting.rounds; ++round) {
    if (!report(progress, 0.5f + 0.5f * static_cast<float>(round) / static_cast<float>(setting.rounds)))
      return cancelledError();
    const Standing standing = standingOf(ground, sown->cells.size(), owners, setting.rows > 0);
    std::vector<SkinCell> next(sown->cells.size());
    parallel(
        next.size(),
        [&](size_t c) {
          next[c] = moved(ground, setting, *sown, c, standing.members.of(c), standing.around[c]);
        },
        256);
    sown->cells = std::move(next);
    const int sweeps = round + 1 == setting.rounds ? 3 * kBorderSweeps : kBorderSweeps;
    Borders borders(ground, sown->cells, owners);
    for (int i = 0; i < sweeps && borders.move(); ++i) {
    }
    dropEmpty(*sown, owners);
  }
  return together(ground, std::move(*sown), std::move(owners));
}

}  // namespace juvenor
