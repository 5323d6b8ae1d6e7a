#include "core/textures/cut_charts.h"

#include <algorithm>
#include <atomic>
#include <map>
#include <mutex>
#include <numeric>
#include <unordered_set>

#include "core/parallel.h"

namespace juvenor {
namespace {

class Cutting {
 public:
  Cutting(const ChartMesh& mesh, float mostStretch, const Progress& progress)
      : mesh_(mesh), most_(mostStretch), progress_(progress) {}

  Result<std::vector<FlatChart>> run(Pieces pieces) {
    while (!pieces.empty()) {
      std::vector<Pieces> cut(pieces.size());
      std::atomic<bool> stopped = false;
      parallel(
          pieces.size(),
          [&](size_t i) {
            if (!stopped) cut[i] = settle(pieces[i]);
            if (!report(progress_, done())) stopped = true;
          },
          1);
      if (stopped) return cancelledError();
      pieces.clear();
      for (auto& some : cut)
        for (auto& piece : some) pieces.push_back(std::move(piece));
      std::ranges::stable_sort(pieces, [](const ChartPiece& a, const ChartPiece& b) {
        return a.triangles.size() > b.triangles.size();
      });
    }
    // (whatever core was first)
    std::ranges::sort(flat_,
                      [](const FlatChart& a, const FlatChart& b) { return a.triangles < b.triangles; });
    return std::move(flat_);
  }

 private:
  // Lays a piece flat, or gives the pieces to try next.
  Pieces settle(const ChartPiece& piece) {
    std::vector<uint32_t> over;
    if (auto chart = flattened(mesh_, piece.triangles, most_, piece.known.get(), &over)) {
      take(std::move(*chart));
      return {};
    }
    // what is known of a coarser mesh may mislead where that is not like it at all
    constexpr size_t kLittle = 20'000;
    if (over.empty() && piece.known && piece.triangles.size() < kLittle)
      if (auto chart = flattened(mesh_, piece.triangles, most_)) {
        take(std::move(*chart));
        return {};
      }
    auto parts = over.empty() ? std::array<std::vector<uint32_t>, 2>{} : peeled(piece, over);
    if (parts[0].empty()) parts = halves(mesh_, piece.triangles);
    if (parts[0].empty()) {
      take(projected(mesh_, piece.triangles));
      return {};
    }
    Pieces out;
    for (const auto& part : parts)
      for (auto& one : connectedPieces(mesh_, part)) out.push_back({std::move(one), piece.known});
    return out;
  }
  // What lies over the rest and one triangle around it, apart from the rest; nothing where it is much.
  std::array<std::vector<uint32_t>, 2> peeled(const ChartPiece& piece,
                                              const std::vector<uint32_t>& over) const {
    constexpr size_t kLeast = 500, kFewOf = 30;
    if (piece.triangles.size() < kLeast) return {};
    std::unordered_set<uint32_t> polygons, points;
    for (const uint32_t t : over) points.insert(mesh_.triangles[t].begin(), mesh_.triangles[t].end());
    for (const uint32_t t : piece.triangles)
      if (std::ranges::any_of(mesh_.triangles[t], [&](uint32_t p) { return points.contains(p); }))
        polygons.insert(mesh_.polygon[t]);
    std::array<std::vector<uint32_t>, 2> out;
    for (const uint32_t t : piece.triangles) out[polygons.contains(mesh_.polygon[t]) ? 1 : 0].push_back(t);
    if (out[1].size() * kFewOf > piece.triangles.size()) return {};
    return out;
  }
  void take(FlatChart chart) {
    const std::lock_guard lock(mutex_);
    laid_ += chart.triangles.size();
    flat_.push_back(std::move(chart));
  }
  float done() {
    const std::lock_guard lock(mutex_);
    return static_cast<float>(laid_) / static_cast<float>(std::max<size_t>(1, mesh_.triangles.size()));
  }

  const ChartMesh& mesh_;
  float most_;
  Progress progress_;
  std::mutex mutex_;
  std::vector<FlatChart> flat_;
  size_t laid_ = 0;
};

class Joining {
 public:
  Joining(const ChartMesh& mesh, std::vector<FlatChart> charts, float mostStretch)
      : mesh_(mesh), most_(mostStretch), flat_(std::move(charts)), chartOf_(mesh.triangles.size(), kNone) {
    for (uint32_t c = 0; c < flat_.size(); ++c)
      for (const uint32_t t : flat_[c].triangles) chartOf_[t] = c;
  }

  Result<std::vector<FlatChart>> run(size_t small, const Progress& progress) {
    const std::vector<uint32_t> order = smallestFirst(flat_);
    for (size_t i = 0; i < order.size(); ++i) {
      const uint32_t c = order[i];
      if (flat_[c].triangles.empty() || flat_[c].triangles.size() >= small) continue;
      if (!report(progress, static_cast<float>(i) / static_cast<float>(order.size())))
        return cancelledError();
      const auto into = chartsBeside(mesh_, flat_[c].triangles, chartOf_);
      for (size_t k = 0; k < std::min<size_t>(3, into.size()); ++k)
        if (join(into[k], c)) break;
    }
    std::erase_if(flat_, [](const FlatChart& f) { return f.triangles.empty(); });
    return std::move(flat_);
  }

 private:
  // `from` becomes part of `into`, or everything stays.
  bool join(uint32_t into, uint32_t from) {
    std::vector<uint32_t> both = flat_[into].triangles;
    both.insert(both.end(), flat_[from].triangles.begin(), flat_[from].triangles.end());
    auto chart = flattened(mesh_, both, most_);
    if (!chart) return false;
    for (const uint32_t t : flat_[from].triangles) chartOf_[t] = into;
    flat_[into] = std::move(*chart);
    flat_[from] = {};
    return true;
  }

  const ChartMesh& mesh_;
  float most_;
  std::vector<FlatChart> flat_;
  std::vector<uint32_t> chartOf_;
};

}  // namespace

std::vector<uint32_t> chartsBeside(const ChartMesh& mesh, std::span<const uint32_t> triangles,
                                   std::span<const uint32_t> chartOf) {
  std::map<uint32_t, float> length;
  for (const uint32_t t : triangles)
    for (size_t e = 0; e < 3; ++e) {
      const uint32_t next = mesh.across[t][e];
      if (next == kNone || chartOf[next] == chartOf[t]) continue;
      const Triangle& v = mesh.triangles[t];
      length[chartOf[next]] += (mesh.positions[v[e]] - mesh.positions[v[(e + 1) % 3]]).norm();
    }
  std::vector<uint32_t> out;
  for (const auto& [other, shared] : length) out.push_back(other);
  std::ranges::stable_sort(out, [&](uint32_t a, uint32_t b) { return length[a] > length[b]; });
  return out;
}

std::vector<uint32_t> smallestFirst(std::span<const FlatChart> charts) {
  std::vector<uint32_t> out(charts.size());
  std::iota(out.begin(), out.end(), 0u);
  std::ranges::stable_sort(
      out, [&](uint32_t a, uint32_t b) { return charts[a].triangles.size() < charts[b].triangles.size(); });
  return out;
}

Result<std::vector<FlatChart>> cutFlat(const ChartMesh& mesh, Pieces pieces, float mostStretch,
                                       const Progress& progress) {
  return Cutting(mesh, mostStretch, progress).run(std::move(pieces));
}

Result<std::vector<FlatChart>> withSmallJoined(const ChartMesh& mesh, std::vector<FlatChart> charts,
                                               size_t small, float mostStretch, const Progress& progress) {
  return Joining(mesh, std::move(charts), mostStretch).run(small, progress);
}

}  // namespace juvenor
