// Heat on one level of the ladder, a piece at a time: the nodes under a chunk and as many rings around them
// as there are steps, so that a chunk comes out as if the whole had been worked on. Explicit steps of the
// heat equation; what gathering in nodes and blending between them spread by themselves is taken off its
// time.
#include <cmath>
#include <unordered_map>

#include "core/cell_members.h"
#include "core/layers/filter.h"
#include "core/parallel.h"
#include "core/surface/skin_level.h"

namespace juvenor {
namespace {

// Cells of the level by the deviation: no wider than this.
constexpr float kCellsWide = 1.2f;
// How far nodes are blended between, in cells, and what that and the gathering add to the variance (cells
// squared): a fade of (1 − r²/R²)² spreads by R²/8, a box by 1/12.
constexpr float kBlendReach = 1.8f;
constexpr int kBlendRings = 2;
constexpr size_t kMostBlends = 24;
constexpr float kNowhere = 1e18f;
constexpr float kOwnVariance = kBlendReach * kBlendReach / 8 + 1.f / 12;
// Of the longest step that keeps all values between those around.
constexpr float kHeatStep = 0.9f;
constexpr int kMostHeatSteps = 40;

using Tone = Eigen::Array4f;  // red, green, blue, and 1

// The nodes one chunk needs.
struct Piece {
  std::vector<uint32_t> nodes;      // those under the chunk first
  std::vector<uint32_t> start;      // of the inner ones, whose neighbours are all among the nodes
  std::vector<uint32_t> neighbors;  // places in `nodes`
  std::vector<float> weights;       // parts of a step, from a neighbour
  std::vector<uint32_t> chunks;     // that hold what lies under the nodes
  // what each of the first nodes is blended with, by places; itself first
  std::vector<uint32_t> blendStart, blends;
  std::vector<uint32_t> ownPlaces;  // of each sample of the chunk
};

struct BlendRow;

class Melting final : public ColorFilter {
 public:
  Melting(std::shared_ptr<const Surface> surface, SkinLevel level, float deviation)
      : surface_(std::move(surface)), level_(std::move(level)) {
    if (!level_.nodeOf.empty()) members_ = CellMembers(level_.nodeOf, graph().size());
    plan(deviation);
  }

  bool work(const Progress& progress) {
    pieces_.resize(chunkCount(surface_->size()));
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
  ColorField::Pointer filtered(size_t index, const BelowColors& below) const override;

 private:
  const SkinGraph& graph() const { return level_.graph(); }
  void plan(float deviation);
  Piece pieceOf(size_t chunk) const;
  void addBlends(size_t core, Piece& out) const;
  std::vector<Tone> gathered(const Piece& piece, const BelowColors& below) const;
  BlendRow rowOf(const Piece& piece, uint32_t own, std::span<const Tone> tones) const;
  void spread(size_t index, const Piece& piece, std::span<const Tone> tones, ColorChunk& out) const;
  std::span<const uint32_t> under(uint32_t node) const {
    return level_.nodeOf.empty() ? std::span(&samples_[node], 1) : members_.of(node);
  }

  std::shared_ptr<const Surface> surface_;
  SkinLevel level_;
  CellMembers members_;
  std::vector<uint32_t> samples_;  // 0, 1, 2 … where nodes are samples
  int steps_ = 0;
  float time_ = 0;  // of a step
  std::vector<Piece> pieces_;
};

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
  if (!level_.nodeOf.empty()) return;
  samples_.resize(graph().size());
  for (uint32_t s = 0; s < samples_.size(); ++s) samples_[s] = s;
}

Piece Melting::pieceOf(size_t chunk) const {
  Piece out;
  std::unordered_map<uint32_t, uint32_t> placeOf;
  const auto add = [&](uint32_t node) {
    if (placeOf.emplace(node, static_cast<uint32_t>(out.nodes.size())).second) out.nodes.push_back(node);
  };
  const size_t first = chunk * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
  for (size_t s = first; s < end; ++s) add(level_.over(static_cast<uint32_t>(s)));
  const size_t core = out.nodes.size();
  for (size_t s = first; s < end; ++s)
    out.ownPlaces.push_back(placeOf.at(level_.over(static_cast<uint32_t>(s))));
  // some rings for blending, one for each step
  size_t inner = 0;
  for (int ring = 0; ring < steps_ + (level_.nodeOf.empty() ? 0 : kBlendRings); ++ring) {
    const size_t known = out.nodes.size();
    for (; inner < known; ++inner)
      for (uint32_t e = graph().start[out.nodes[inner]]; e < graph().start[out.nodes[inner] + 1]; ++e)
        add(graph().neighbors[e]);
  }
  out.start.push_back(0);
  for (size_t i = 0; i < inner; ++i) {
    const uint32_t node = out.nodes[i];
    float sum = 0;
    for (uint32_t e = graph().start[node]; e < graph().start[node + 1]; ++e) sum += graph().weights[e];
    const float whole = std::min(kHeatStep, time_ * sum / graph().areas[node]);
    for (uint32_t e = graph().start[node]; e < graph().start[node + 1]; ++e) {
      if (!(graph().weights[e] > 0)) continue;
      out.neighbors.push_back(placeOf.at(graph().neighbors[e]));
      out.weights.push_back(whole * graph().weights[e] / sum);
    }
    out.start.push_back(static_cast<uint32_t>(out.neighbors.size()));
  }
  if (!level_.nodeOf.empty()) addBlends(core, out);
  for (const uint32_t node : out.nodes)
    for (const uint32_t s : under(node)) out.chunks.push_back(static_cast<uint32_t>(s / kChunkSize));
  std::ranges::sort(out.chunks);
  const auto doubles = std::ranges::unique(out.chunks);
  out.chunks.erase(doubles.begin(), doubles.end());
  return out;
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

std::vector<Tone> Melting::gathered(const Piece& piece, const BelowColors& below) const {
  std::vector<ColorField::Pointer> chunks;
  for (const uint32_t c : piece.chunks) chunks.push_back(below.at(c));
  const auto chunkAt = [&](size_t c) -> const ColorChunk& {
    const auto found = std::ranges::lower_bound(piece.chunks, static_cast<uint32_t>(c));
    return *chunks[static_cast<size_t>(found - piece.chunks.begin())];
  };
  std::vector<Tone> out(piece.nodes.size());
  // what lies under a node mostly lies in one chunk
  size_t last = std::numeric_limits<size_t>::max();
  const ColorChunk* chunk = nullptr;
  for (size_t i = 0; i < out.size(); ++i) {
    Tone sum = Tone::Zero();
    for (const uint32_t s : under(piece.nodes[i])) {
      if (s / kChunkSize != last) {
        last = s / kChunkSize;
        chunk = &chunkAt(last);
      }
      const ColorChunk& from = *chunk;
      const size_t at = s % kChunkSize;
      const float a = std::max(1e-30f, surface_->areas[s]);
      sum += a * Tone(from.plane[0][at], from.plane[1][at], from.plane[2][at], 1);
    }
    out[i] = sum / sum[3];
  }
  return out;
}

// The nodes one is blended with, each number of them in a row.
struct BlendRow {
  using Row = Eigen::Array<float, kMostBlends, 1>;
  // nothing is as far as what is not there
  std::array<Row, 3> at{Row::Constant(kNowhere), Row::Constant(kNowhere), Row::Constant(kNowhere)};
  std::array<Row, 3> tone{Row::Zero(), Row::Zero(), Row::Zero()};

  // Of what is blended at a place; the first counts a little wherever it is.
  std::array<float, 3> blended(const Vec3& place, float perReach2) const {
    const Row far2 =
        (at[0] - place.x()).square() + (at[1] - place.y()).square() + (at[2] - place.z()).square();
    Row weight = (1 - far2 * perReach2).max(0.f).square();
    weight[0] += 1e-3f;
    const float all = weight.sum();
    return {(weight * tone[0]).sum() / all, (weight * tone[1]).sum() / all, (weight * tone[2]).sum() / all};
  }
};

BlendRow Melting::rowOf(const Piece& piece, uint32_t own, std::span<const Tone> tones) const {
  BlendRow out;
  for (size_t k = 0; k < 3; ++k) {
    const auto axis = static_cast<Eigen::Index>(k);
    for (uint32_t b = piece.blendStart[own]; b < piece.blendStart[own + 1]; ++b) {
      const auto place = static_cast<Eigen::Index>(b - piece.blendStart[own]);
      out.at[k][place] = graph().positions[piece.nodes[piece.blends[b]]][axis];
      out.tone[k][place] = tones[piece.blends[b]][axis];
    }
  }
  return out;
}

// Between nodes: those that hang together, the nearest counting most.
void Melting::spread(size_t index, const Piece& piece, std::span<const Tone> tones, ColorChunk& out) const {
  const float perReach2 = 1 / (kBlendReach * kBlendReach * level_.cell() * level_.cell());
  const bool blends = !level_.nodeOf.empty();
  uint32_t last = kNone;
  BlendRow row;
  for (size_t k = 0; k < piece.ownPlaces.size(); ++k) {
    const uint32_t own = piece.ownPlaces[k];
    std::array<float, 3> tone{tones[own][0], tones[own][1], tones[own][2]};
    if (blends) {
      if (own != last) row = rowOf(piece, own, tones);
      last = own;
      tone = row.blended(surface_->positions[index * kChunkSize + k], perReach2);
    }
    for (size_t p = 0; p < 3; ++p)
      out.plane[p][k] = static_cast<uint16_t>(std::clamp(tone[p] + 0.5f, 0.f, 65535.f));
    out.plane[3][k] = 65535;
  }
}

ColorField::Pointer Melting::filtered(size_t index, const BelowColors& below) const {
  const Piece& piece = pieces_[index];
  std::vector<Tone> tones = gathered(piece, below), next = tones;
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

Result<ColorFilterPointer> meltFilter(SurfaceMaps& maps, float deviation, const Progress& progress) {
  auto out = std::make_shared<Melting>(maps.sharedSurface(), skinLevel(maps.ladder(), kCellsWide * deviation),
                                       deviation);
  if (!out->work(progress)) return cancelledError();
  return ColorFilterPointer(std::move(out));
}

}  // namespace juvenor
