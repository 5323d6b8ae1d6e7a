// Heat on one level of the ladder, a piece at a time: the nodes under a chunk and as many rings around them
// as there are steps, so that a chunk comes out as if the whole had been worked on. Explicit steps of the
// heat equation; what gathering in nodes and blending between them spread by themselves is taken off its
// time.
#include <fmt/format.h>

#include <cmath>
#include <mutex>
#include <numeric>
#include <unordered_map>

#include "core/layers/filters/filter.h"
#include "core/layers/filters/melt_blend.h"
#include "core/parallel.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {
namespace {

// Cells of the level by the deviation: no wider than this.
constexpr float kCellsWide = 1.2f;
// How far nodes are blended between, in cells, and what that and the gathering add to the variance (cells
// squared): a fade of (1 − r²/R²)² spreads by R²/8, a box by 1/12.
constexpr float kBlendReach = 1.8f;
constexpr int kBlendRings = 2;
constexpr float kOwnVariance = kBlendReach * kBlendReach / 8 + 1.f / 12;
// Of the longest step that keeps all values between those around.
constexpr float kHeatStep = 0.9f;
constexpr int kMostHeatSteps = 40;

using Tone = Eigen::Array4f;  // red, green, blue, and 1

// What the samples of one chunk bring to the nodes over them, from values it was worked out for.
struct ChunkSums {
  ChunkPlanes from;
  std::vector<Tone> of;  // one for each node over the chunk, weighted by areas
};
using ChunkSumsPointer = std::shared_ptr<const ChunkSums>;

// The nodes over one chunk.
struct Over {
  std::vector<uint32_t> nodes;
  std::vector<uint32_t> placeOf;  // among them, of each sample of the chunk
};

// One of the sums of a chunk goes to a node of a piece.
struct Brings {
  uint32_t place, to;
};

// The nodes one chunk needs.
struct Piece {
  std::vector<uint32_t> nodes;      // those over the chunk first
  std::vector<uint32_t> start;      // of the inner ones, whose neighbours are all among the nodes
  std::vector<uint32_t> neighbors;  // places in `nodes`
  std::vector<float> weights;       // parts of a step, from a neighbour
  std::vector<uint32_t> chunks;     // that hold what lies under the nodes
  std::vector<uint32_t> bringsStart;
  std::vector<Brings> brings;  // of each of those chunks
  // what each of the first nodes is blended with, by places; itself first
  std::vector<uint32_t> blendStart, blends;
};

// Made for good: what room is left over is given back.
void fit(auto&... lists) {
  (lists.shrink_to_fit(), ...);
}

class Melting final : public PlaneFilter {
 public:
  Melting(std::shared_ptr<const Surface> surface, SkinLevel level, float deviation)
      : surface_(std::move(surface)), level_(std::move(level)) {
    plan(deviation);
  }

  bool work(const Progress& progress) {
    pieces_.resize(chunkCount(surface_->size()));
    over_.resize(pieces_.size());
    sums_ = std::vector<Remembered>(pieces_.size());
    parallel(
        over_.size(), [&](size_t c) { over_[c] = overChunk(c); }, 1);
    gatherHolders();
    std::atomic<size_t> done = 0;
    std::atomic<bool> stopped = false;
    parallel(
        pieces_.size(),
        [&](size_t c) {
          if (stopped) return;
          pieces_[c] = pieceOf(c);
          if (!report(progress, static_cast<float>(++done) / static_cast<float>(pieces_.size())))
            stopped = true;
        },
        1);
    return !stopped;
  }

  std::span<const uint32_t> around(size_t chunk) const override { return pieces_[chunk].chunks; }
  ColorField::Pointer filtered(size_t index, const PlaneGround& ground) const override;
  size_t bytes() const override;

 private:
  const SkinGraph& graph() const { return level_.graph(); }
  void plan(float deviation);
  Over overChunk(size_t chunk) const;
  void gatherHolders();
  Piece pieceOf(size_t chunk) const;
  void addRings(size_t chunk, Piece& out, std::unordered_map<uint32_t, uint32_t>& placeOf) const;
  void addBrings(Piece& out) const;
  ChunkSumsPointer sumsOf(size_t chunk, const PlaneGround& ground) const;
  void addBlends(size_t core, Piece& out) const;
  std::vector<Tone> gathered(const Piece& piece, const PlaneGround& ground) const;
  BlendRow rowOf(const Piece& piece, uint32_t own, std::span<const Tone> tones) const;
  void spread(size_t index, const Piece& piece, std::span<const Tone> tones, ColorChunk& out) const;
  std::shared_ptr<const Surface> surface_;
  SkinLevel level_;
  std::vector<Over> over_;
  // the chunks each node lies over, and its place in each
  struct Holder {
    uint32_t chunk, place;
  };
  std::vector<uint32_t> holderStart_;
  std::vector<Holder> holders_;
  // of every chunk the last sums: most of what a dab makes a filter look at has not changed. Several, for one
  // filter may work on colour and relief, or for two layers.
  struct Remembered {
    mutable std::mutex hold;
    mutable std::array<ChunkSumsPointer, 3> sums;
    mutable size_t oldest = 0;
  };
  std::vector<Remembered> sums_;
  int steps_ = 0;
  float time_ = 0;  // of a step
  std::vector<Piece> pieces_;
};

// With the sums it remembers by now, and what they came from.
size_t Melting::bytes() const {
  const auto of = [](const auto&... lists) { return (bytesHeld(lists) + ...); };
  size_t out = of(holderStart_, holders_, level_.nodeOf, over_, pieces_, sums_);
  for (const Over& over : over_) out += of(over.nodes, over.placeOf);
  for (const Piece& p : pieces_)
    out += of(p.nodes, p.start, p.neighbors, p.weights, p.chunks, p.bringsStart, p.brings, p.blendStart,
              p.blends);
  for (const Remembered& known : sums_) {
    const std::lock_guard hold(known.hold);
    for (const ChunkSumsPointer& sums : known.sums)
      if (sums) out += sizeof(ChunkSums) + of(sums->of) + sizeof(ColorChunk);
  }
  return out;
}

// As few steps as keep every value between those around, for most nodes.
void Melting::plan(float deviation) {
  const float own = level_.nodeOf.empty() ? 0 : kOwnVariance * level_.cell() * level_.cell();
  const float time = 0.5f * std::max(0.f, deviation * deviation - own);
  double rate = 0;
  for (size_t n = 0; n < graph().size(); ++n) {
    float w = 0;
    for (uint32_t e = graph().start[n]; e < graph().start[n + 1]; ++e) w += graph().weights[e];
    rate += static_cast<double>(w / graph().areas[n]);
  }
  rate /= static_cast<double>(std::max<size_t>(1, graph().size()));
  const double steps = std::ceil(static_cast<double>(time) * rate / static_cast<double>(kHeatStep));
  steps_ = std::isfinite(steps) ? static_cast<int>(std::clamp(steps, 0.0, double{kMostHeatSteps})) : 0;
  time_ = steps_ > 0 ? time / static_cast<float>(steps_) : 0;
}

Over Melting::overChunk(size_t chunk) const {
  Over out;
  std::unordered_map<uint32_t, uint32_t> placeOf;
  const size_t first = chunk * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
  for (size_t s = first; s < end; ++s) {
    const uint32_t node = level_.over(static_cast<uint32_t>(s));
    const auto [at, fresh] = placeOf.emplace(node, static_cast<uint32_t>(out.nodes.size()));
    if (fresh) out.nodes.push_back(node);
    out.placeOf.push_back(at->second);
  }
  fit(out.nodes, out.placeOf);
  return out;
}

void Melting::gatherHolders() {
  holderStart_.assign(graph().size() + 1, 0);
  for (const Over& over : over_)
    for (const uint32_t node : over.nodes) ++holderStart_[node + 1];
  std::partial_sum(holderStart_.begin(), holderStart_.end(), holderStart_.begin());
  holders_.resize(holderStart_.back());
  std::vector<uint32_t> next(holderStart_.begin(), holderStart_.end() - 1);
  for (uint32_t c = 0; c < over_.size(); ++c)
    for (uint32_t place = 0; place < over_[c].nodes.size(); ++place)
      holders_[next[over_[c].nodes[place]]++] = {c, place};
}

// Some rings for blending, one for each step.
void Melting::addRings(size_t chunk, Piece& out, std::unordered_map<uint32_t, uint32_t>& placeOf) const {
  const auto add = [&](uint32_t node) {
    if (placeOf.emplace(node, static_cast<uint32_t>(out.nodes.size())).second) out.nodes.push_back(node);
  };
  for (const uint32_t node : over_[chunk].nodes) add(node);
  size_t inner = 0;
  for (int ring = 0; ring < steps_ + (level_.nodeOf.empty() ? 0 : kBlendRings); ++ring) {
    const size_t known = out.nodes.size();
    for (; inner < known; ++inner)
      for (uint32_t e = graph().start[out.nodes[inner]]; e < graph().start[out.nodes[inner] + 1]; ++e)
        add(graph().neighbors[e]);
  }
  out.start.assign(inner + 1, 0);
}

Piece Melting::pieceOf(size_t chunk) const {
  Piece out;
  std::unordered_map<uint32_t, uint32_t> placeOf;
  addRings(chunk, out, placeOf);
  for (size_t i = 0; i + 1 < out.start.size(); ++i) {
    const uint32_t node = out.nodes[i];
    float sum = 0;
    for (uint32_t e = graph().start[node]; e < graph().start[node + 1]; ++e) sum += graph().weights[e];
    const float whole = std::min(kHeatStep, time_ * sum / graph().areas[node]);
    for (uint32_t e = graph().start[node]; e < graph().start[node + 1]; ++e) {
      if (!(graph().weights[e] > 0)) continue;
      out.neighbors.push_back(placeOf.at(graph().neighbors[e]));
      out.weights.push_back(whole * graph().weights[e] / sum);
    }
    out.start[i + 1] = static_cast<uint32_t>(out.neighbors.size());
  }
  if (!level_.nodeOf.empty()) addBlends(over_[chunk].nodes.size(), out);
  addBrings(out);
  fit(out.nodes, out.neighbors, out.weights, out.chunks, out.bringsStart, out.brings, out.blendStart,
      out.blends);
  return out;
}

// The chunks under the nodes, and what each brings to which.
void Melting::addBrings(Piece& out) const {
  struct Found {
    uint32_t chunk;
    Brings brings;
  };
  std::vector<Found> found;
  for (uint32_t to = 0; to < out.nodes.size(); ++to)
    for (uint32_t h = holderStart_[out.nodes[to]]; h < holderStart_[out.nodes[to] + 1]; ++h)
      found.push_back({holders_[h].chunk, {holders_[h].place, to}});
  std::ranges::stable_sort(found, {}, &Found::chunk);
  for (const Found& one : found) {
    if (out.chunks.empty() || out.chunks.back() != one.chunk) {
      out.chunks.push_back(one.chunk);
      out.bringsStart.push_back(static_cast<uint32_t>(out.brings.size()));
    }
    out.brings.push_back(one.brings);
  }
  out.bringsStart.push_back(static_cast<uint32_t>(out.brings.size()));
}

// Nodes that hang together with one and lie near enough to what is under it.
void Melting::addBlends(size_t core, Piece& out) const {
  const float reach = (kBlendReach + 0.9f) * level_.cell();
  out.blendStart.push_back(0);
  for (uint32_t i = 0; i < core; ++i) {
    const size_t first = out.blends.size();
    out.blends.push_back(i);
    size_t ringStart = first;
    for (int ring = 0; ring < kBlendRings; ++ring) {
      const size_t ringEnd = out.blends.size();
      for (; ringStart < ringEnd; ++ringStart) {
        const uint32_t from = out.blends[ringStart];
        for (uint32_t e = out.start[from]; e < out.start[from + 1]; ++e) {
          const uint32_t other = out.neighbors[e];
          const Vec3 away = graph().positions[out.nodes[other]] - graph().positions[out.nodes[i]];
          if (away.squaredNorm() < reach * reach && out.blends.size() - first < kMostBlends &&
              std::find(out.blends.begin() + static_cast<std::ptrdiff_t>(first), out.blends.end(), other) ==
                  out.blends.end())
            out.blends.push_back(other);
        }
      }
    }
    out.blendStart.push_back(static_cast<uint32_t>(out.blends.size()));
  }
}

ChunkSumsPointer Melting::sumsOf(size_t chunk, const PlaneGround& ground) const {
  const ChunkPlanes from = ground.at(chunk);
  const Remembered& known = sums_[chunk];
  {
    const std::lock_guard hold(known.hold);
    for (const ChunkSumsPointer& sums : known.sums)
      if (sums && sums->from.hold == from.hold && sums->from.plane == from.plane) return sums;
  }
  static constexpr std::array<uint16_t, kChunkSize> kNothing{};
  const auto plane = [&](size_t p) { return from.plane[p] ? from.plane[p] : kNothing.data(); };
  const uint16_t *first = plane(0), *second = plane(1), *third = plane(2);
  auto out = std::make_shared<ChunkSums>();
  out->from = from;
  out->of.assign(over_[chunk].nodes.size(), Tone::Zero());
  for (size_t k = 0; k < over_[chunk].placeOf.size(); ++k) {
    const float area = std::max(1e-30f, surface_->areas[chunk * kChunkSize + k]);
    out->of[over_[chunk].placeOf[k]] += area * Tone(first[k], second[k], third[k], 1);
  }
  const std::lock_guard hold(known.hold);
  known.sums[known.oldest] = out;
  known.oldest = (known.oldest + 1) % known.sums.size();
  return out;
}

std::vector<Tone> Melting::gathered(const Piece& piece, const PlaneGround& ground) const {
  std::vector<Tone> out(piece.nodes.size(), Tone::Zero());
  for (size_t c = 0; c < piece.chunks.size(); ++c) {
    const ChunkSumsPointer sums = sumsOf(piece.chunks[c], ground);
    for (uint32_t b = piece.bringsStart[c]; b < piece.bringsStart[c + 1]; ++b)
      out[piece.brings[b].to] += sums->of[piece.brings[b].place];
  }
  for (Tone& tone : out) tone /= tone[3];
  return out;
}

BlendRow Melting::rowOf(const Piece& piece, uint32_t own, std::span<const Tone> tones) const {
  BlendRow out;
  for (size_t k = 0; k < 3; ++k) {
    const auto axis = static_cast<Eigen::Index>(k);
    for (uint32_t b = piece.blendStart[own]; b < piece.blendStart[own + 1]; ++b) {
      const size_t place = b - piece.blendStart[own];
      out.at[k][place] = graph().positions[piece.nodes[piece.blends[b]]][axis];
      out.tone[k][place] = tones[piece.blends[b]][axis];
    }
  }
  return out;
}

// Between nodes: those that hang together, the nearest counting most.
void Melting::spread(size_t index, const Piece& piece, std::span<const Tone> tones, ColorChunk& out) const {
  const Over& over = over_[index];
  if (!level_.nodeOf.empty()) {
    std::vector<BlendRow> rows;
    rows.reserve(over.nodes.size());
    for (uint32_t own = 0; own < over.nodes.size(); ++own) rows.push_back(rowOf(piece, own, tones));
    blendAround(rows, over.placeOf, &surface_->positions[index * kChunkSize],
                1 / (kBlendReach * kBlendReach * level_.cell() * level_.cell()), out);
    return;
  }
  for (size_t k = 0; k < over.placeOf.size(); ++k) {
    const Tone& tone = tones[over.placeOf[k]];
    for (size_t p = 0; p < 3; ++p)
      out.plane[p][k] =
          static_cast<uint16_t>(std::clamp(tone[static_cast<Eigen::Index>(p)] + 0.5f, 0.f, 65535.f));
    out.plane[3][k] = 65535;
  }
}

ColorField::Pointer Melting::filtered(size_t index, const PlaneGround& ground) const {
  const Piece& piece = pieces_[index];
  std::vector<Tone> tones = gathered(piece, ground), next = tones;
  for (int step = 0; step < steps_; ++step) {
    for (size_t i = 0; i + 1 < piece.start.size(); ++i) {
      Tone sum = tones[i];
      for (uint32_t e = piece.start[i]; e < piece.start[i + 1]; ++e)
        sum += piece.weights[e] * (tones[piece.neighbors[e]] - tones[i]);
      next[i] = sum;
    }
    tones.swap(next);
  }
  auto out = std::make_shared<ColorChunk>();
  spread(index, piece, tones, *out);
  return out;
}

}  // namespace

namespace {

std::string meltFilterKey(float deviation) {
  return fmt::format("melt filter {}", deviation);
}

}  // namespace

bool hasMeltFilter(SurfaceMaps& maps, float deviation) {
  return maps.hasDerived(meltFilterKey(deviation));
}

Result<PlaneFilterPointer> meltFilter(SurfaceMaps& maps, float deviation, const Progress& progress) {
  return maps.derived<PlaneFilter>(meltFilterKey(deviation), [&]() -> Result<PlaneFilterPointer> {
    auto out = std::make_shared<Melting>(maps.sharedSurface(),
                                         skinLevel(maps.ladder(), kCellsWide * deviation), deviation);
    if (!out->work(progress)) return cancelledError();
    return PlaneFilterPointer(std::move(out));
  });
}

}  // namespace juvenor
