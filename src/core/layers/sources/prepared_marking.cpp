#include "core/layers/sources/prepared_marking.h"

#include <cmath>
#include <typeinfo>

namespace juvenor {

PreparedMarking::PreparedMarking(ChannelSet channels, std::vector<uint64_t> signatures)
    : channels_(channels),
      signatures_(std::move(signatures)),
      asked_(signatures_.size()),
      there_(signatures_.size()),
      chunks_(signatures_.size()) {}

bool PreparedMarking::markChanges(Channel, const PreparedSource& before, std::vector<char>& marks) const {
  const auto* old = dynamic_cast<const PreparedMarking*>(&before);
  if (!old || old->signatures_.size() != signatures_.size()) return false;
  for (size_t i = 0; i < marks.size(); ++i)
    if (signatures_[i] != old->signatures_[i]) marks[i] = 1;
  return true;
}

void PreparedMarking::markContent(Channel, std::vector<char>& marks) const {
  for (size_t i = 0; i < marks.size(); ++i)
    if (signatures_[i]) marks[i] = 1;
}

const PreparedMarking::Worked& PreparedMarking::kept(size_t index) const {
  std::call_once(asked_[index], [&] {
    if (signatures_[index]) chunks_[index] = worked(index);
    there_[index] = true;
  });
  return chunks_[index];
}

void PreparedMarking::takeOver(const PreparedSource& before) const {
  const auto* old = dynamic_cast<const PreparedMarking*>(&before);
  if (!old || old == this || typeid(*old) != typeid(*this) || old->signatures_.size() != signatures_.size())
    return;
  for (size_t i = 0; i < chunks_.size(); ++i)
    if (signatures_[i] && signatures_[i] == old->signatures_[i] && old->there_[i])
      std::call_once(asked_[i], [&] {
        chunks_[i] = old->chunks_[i];
        there_[i] = true;
      });
}

void sign(uint64_t& signature, const std::string& text) {
  for (const char c : text) sign(signature, c);
}

namespace {

// A coarse grid over the whole: which chunks reach into each of its cells.
class ChunkGrid {
 public:
  explicit ChunkGrid(const Surface& surface)
      : low_(surface.bounds.low),
        cell_(std::max(surface.bounds.diagonal() / kCells, 1e-30f)),
        chunks_(static_cast<size_t>(kSide) * kSide * kSide) {
    for (size_t c = 0; c < surface.groups.size(); ++c)
      eachCell(surface.groups[c].low, surface.groups[c].high,
               [&](size_t at) { chunks_[at].push_back(static_cast<uint32_t>(c)); });
  }
  const std::vector<uint32_t>& at(size_t cell) const { return chunks_[cell]; }

  template <class Body>
  void eachCell(const Vec3& low, const Vec3& high, Body body) const {
    const auto a = cellOf(low), b = cellOf(high);
    for (int z = a[2]; z <= b[2]; ++z)
      for (int y = a[1]; y <= b[1]; ++y)
        for (int x = a[0]; x <= b[0]; ++x) body((static_cast<size_t>(z) * kSide + y) * kSide + x);
  }

 private:
  static constexpr int kCells = 40, kSide = kCells + 1;  // a cube as wide as the diagonal holds all
  std::array<int, 3> cellOf(const Vec3& p) const {
    std::array<int, 3> out;
    for (int i = 0; i < 3; ++i)
      out[static_cast<size_t>(i)] =
          static_cast<int>(std::clamp((p[i] - low_[i]) / cell_, 0.f, static_cast<float>(kCells)));
    return out;
  }

  Vec3 low_;
  float cell_;
  std::vector<std::vector<uint32_t>> chunks_;
};

}  // namespace

ChunkBins::ChunkBins(const Surface& surface, std::span<const Ball> balls) {
  static_assert(kChunkSize == 16 * kBlockSize, "a group of boxes is a chunk");
  const size_t chunks = chunkCount(surface.size());
  const ChunkGrid grid(surface);
  std::vector<std::vector<uint32_t>> bins(chunks);
  for (size_t i = 0; i < balls.size(); ++i) {
    const Ball& ball = balls[i];
    const Vec3 around = Vec3::Constant(ball.radius);
    const auto ballNumber = static_cast<uint32_t>(i);
    grid.eachCell(ball.center - around, ball.center + around, [&](size_t cell) {
      for (const uint32_t c : grid.at(cell))
        if ((bins[c].empty() || bins[c].back() != ballNumber) &&
            surface.groups[c].squaredDistance(ball.center) <= ball.radius * ball.radius)
          bins[c].push_back(ballNumber);
    });
  }
  start_.assign(chunks + 1, 0);
  for (size_t c = 0; c < chunks; ++c) {
    start_[c + 1] = start_[c] + bins[c].size();
    balls_.insert(balls_.end(), bins[c].begin(), bins[c].end());
  }
}

}  // namespace juvenor
