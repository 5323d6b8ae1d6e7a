#include "core/textures/unwrap.h"

#include <atomic>
#include <cmath>
#include <map>
#include <mutex>
#include <numeric>

#include "core/document/edits/edits.h"
#include "core/sculpt/each_triangle.h"
#include "core/sculpt/uv_places.h"
#include "core/surface/maps/measures.h"
#include "core/textures/pack_islands.h"
#include "core/textures/uv_stretch.h"

namespace juvenor {
namespace {

// The sculpt's triangles over points that coincident vertices of a part share, with the sculpt's numbers.
struct WeldedSculpt {
  ChartMesh mesh;
  std::vector<uint32_t> sculptTriangle;
};

Result<WeldedSculpt> weld(const Sculpt& sculpt, std::span<const float> hidden, const Progress& progress) {
  WeldedSculpt out;
  const auto surface = buildSurface(sculpt, progress, &out.sculptTriangle);
  if (!surface) return surface.error();
  std::vector<float> closed;
  if (!hidden.empty()) {
    closed.assign((*surface)->size(), 0);
    for (size_t v = 0; v < hidden.size(); ++v) closed[(*surface)->sampleOfVertex[v]] = hidden[v];
  }
  std::vector<uint32_t> polygonOf(triangleCount(sculpt)), polygons;
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle&) { polygonOf[t] = static_cast<uint32_t>(p); });
  for (const uint32_t t : out.sculptTriangle) polygons.push_back(polygonOf[t]);
  out.mesh = chartMesh((*surface)->positions, (*surface)->triangles, std::move(polygons), closed);
  return out;
}

class Cutting {
 public:
  Cutting(const ChartMesh& mesh, float mostStretch, const Progress& progress)
      : mesh_(mesh), most_(mostStretch), progress_(progress) {}

  /// Flat charts of all triangles; pieces are cut and laid flat side by side.
  Result<std::vector<FlatChart>> run() {
    std::vector<uint32_t> all(mesh_.triangles.size());
    for (uint32_t t = 0; t < all.size(); ++t) all[t] = t;
    std::vector<std::vector<uint32_t>> pieces = connectedPieces(mesh_, all);
    while (!pieces.empty()) {
      std::vector<std::vector<std::vector<uint32_t>>> cut(pieces.size());
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
      std::ranges::stable_sort(pieces, [](const auto& a, const auto& b) { return a.size() > b.size(); });
    }
    // (whatever core was first)
    std::ranges::sort(flat_,
                      [](const FlatChart& a, const FlatChart& b) { return a.triangles < b.triangles; });
    return std::move(flat_);
  }

 private:
  // Lays a piece flat, or gives the pieces to try next.
  std::vector<std::vector<uint32_t>> settle(const std::vector<uint32_t>& piece) {
    if (auto chart = flattened(mesh_, piece, most_)) {
      const std::lock_guard lock(mutex_);
      laid_ += piece.size();
      flat_.push_back(std::move(*chart));
      return {};
    }
    const auto parts = halves(mesh_, piece);
    std::vector<std::vector<uint32_t>> out;
    if (parts[0].empty()) {
      const std::lock_guard lock(mutex_);
      laid_ += piece.size();
      flat_.push_back(projected(mesh_, piece));
      return {};
    }
    for (const auto& half : parts)
      for (auto& one : connectedPieces(mesh_, half)) out.push_back(std::move(one));
    return out;
  }
  // Small charts join the neighbour they share most of their border with, where both lie flat as one.
  void joinSmall() {
    constexpr size_t kSmall = 2000, kLarge = 20'000;
    std::vector<uint32_t> chartOf(mesh_.triangles.size(), kNone);
    for (uint32_t c = 0; c < flat_.size(); ++c)
      for (const uint32_t t : flat_[c].triangles) chartOf[t] = c;
    std::vector<uint32_t> order(flat_.size());
    std::iota(order.begin(), order.end(), 0u);
    std::ranges::stable_sort(
        order, [&](uint32_t a, uint32_t b) { return flat_[a].triangles.size() < flat_[b].triangles.size(); });
    for (const uint32_t c : order) {
      if (flat_[c].triangles.empty() || flat_[c].triangles.size() >= kSmall) continue;
      const auto into = neighborsOf(c, chartOf);
      for (size_t k = 0; k < std::min<size_t>(3, into.size()); ++k)
        if (flat_[into[k]].triangles.size() < kLarge && join(into[k], c, chartOf)) break;
    }
    std::erase_if(flat_, [](const FlatChart& f) { return f.triangles.empty(); });
  }
  // Charts beside one, those with the longest common border first.
  std::vector<uint32_t> neighborsOf(uint32_t chart, const std::vector<uint32_t>& chartOf) const {
    std::map<uint32_t, float> length;
    for (const uint32_t t : flat_[chart].triangles)
      for (size_t e = 0; e < 3; ++e) {
        const uint32_t next = mesh_.across[t][e];
        if (next == kNone || chartOf[next] == chart) continue;
        const Triangle& v = mesh_.triangles[t];
        length[chartOf[next]] += (mesh_.positions[v[e]] - mesh_.positions[v[(e + 1) % 3]]).norm();
      }
    std::vector<uint32_t> out;
    for (const auto& [other, shared] : length) out.push_back(other);
    std::ranges::stable_sort(out, [&](uint32_t a, uint32_t b) { return length[a] > length[b]; });
    return out;
  }
  // `from` becomes part of `into`, or everything stays.
  bool join(uint32_t into, uint32_t from, std::vector<uint32_t>& chartOf) {
    std::vector<uint32_t> both = flat_[into].triangles;
    both.insert(both.end(), flat_[from].triangles.begin(), flat_[from].triangles.end());
    auto chart = flattened(mesh_, both, most_);
    if (!chart) return false;
    for (const uint32_t t : flat_[from].triangles) chartOf[t] = into;
    flat_[into] = std::move(*chart);
    flat_[from] = {};
    return true;
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

// A UV set from the places of a sculpt's triangles, which are not finite where one was left out. Vertices
// that have one place in several polygons keep one.
UvSet setOf(const Sculpt& sculpt, const std::vector<std::array<Vec2, 3>>& places, const std::string& name) {
  std::vector<Vec2> ofCorner(sculpt.corners.size(), Vec2::Constant(std::numeric_limits<float>::quiet_NaN()));
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle& at) {
    for (size_t k = 0; k < 3; ++k)
      if (places[t][k].allFinite()) ofCorner[sculpt.polygonStart[p] + at[k]] = places[t][k];
  });
  UvSet out{name, {}, std::vector<uint32_t>(sculpt.corners.size(), kNone)};
  UvPlaces kept(out, sculpt.vertices.size());
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    // a corner of nothing but triangles without an area lies where the nearest of its polygon does
    const auto nearest = [&](uint32_t corner) {
      Vec2 best = Vec2(0, 0);
      float least = std::numeric_limits<float>::max();
      for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c) {
        const float away =
            (sculpt.vertices[sculpt.corners[c]] - sculpt.vertices[sculpt.corners[corner]]).norm();
        if (!ofCorner[c].allFinite() || away >= least) continue;
        least = away;
        best = ofCorner[c];
      }
      return best;
    };
    for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c)
      out.corner[c] = kept.of(sculpt.corners[c], ofCorner[c].allFinite() ? ofCorner[c] : nearest(c));
  }
  return out;
}

// Where all triangles of a mesh lie in the tiles.
struct Laid {
  std::vector<std::array<Vec2, 3>> corners;
  size_t islands = 0;
};

Result<Laid> laidFlat(const ChartMesh& mesh, const UnwrapSetting& setting, const Progress& progress) {
  auto charts =
      Cutting(mesh, setting.mostStretch, [&](float f) { return report(progress, 0.05f + 0.75f * f); }).run();
  if (!charts) return charts.error();
  const auto packed = packIslands(*charts, {setting.tiles, setting.padding},
                                  [&](float f) { return report(progress, 0.8f + 0.2f * f); });
  if (!packed) return packed.error();
  const Vec2 none = Vec2::Constant(std::numeric_limits<float>::quiet_NaN());
  Laid out{std::vector<std::array<Vec2, 3>>(mesh.triangles.size(), {none, none, none}), charts->size()};
  for (size_t c = 0; c < charts->size(); ++c)
    for (size_t i = 0; i < (*charts)[c].triangles.size(); ++i)
      out.corners[(*charts)[c].triangles[i]] = packed->charts[c].corners[i];
  return out;
}

}  // namespace

Result<Unwrapped> unwrapped(const Sculpt& sculpt, const UnwrapSetting& setting, std::span<const float> hidden,
                            const Progress& progress) {
  const auto welded = weld(sculpt, hidden, [&](float f) { return report(progress, 0.05f * f); });
  if (!welded) return welded.error();
  if (welded->mesh.triangles.empty()) return Error{"has no triangle with an area", sculpt.name};
  const auto laid = laidFlat(welded->mesh, setting, progress);
  if (!laid) return laid.error();
  Unwrapped out;
  out.islands = laid->islands;
  const Vec2 none = Vec2::Constant(std::numeric_limits<float>::quiet_NaN());
  std::vector<std::array<Vec2, 3>> places(triangleCount(sculpt), {none, none, none});
  for (size_t t = 0; t < laid->corners.size(); ++t) places[welded->sculptTriangle[t]] = laid->corners[t];
  const LayoutStretch stretch = stretchOf(welded->mesh.positions, welded->mesh.triangles, laid->corners);
  out.stretch = stretch.mean;
  out.filled = static_cast<float>(stretch.area / setting.tiles);
  out.set = setOf(sculpt, places, setting.name);
  return out;
}

Result<std::vector<float>> hiddenAtVertices(const Sculpt& sculpt, const Progress& progress) {
  const auto surface = buildSurface(sculpt, [&](float f) { return report(progress, 0.3f * f); });
  if (!surface) return surface.error();
  const auto rays = buildRays(*surface, Rays::Quality::Quick);
  if (!rays) return rays.error();
  // only as far as a hand's breadth on a head: what lies below the chin, not below the sky
  constexpr int kFewRays = 16;
  const auto closed = occlusion(**rays, 0.3f * (*surface)->bounds.diagonal(), kFewRays,
                                [&](float f) { return report(progress, 0.3f + 0.7f * f); });
  if (!closed) return closed.error();
  std::vector<float> out;
  out.reserve(sculpt.vertices.size());
  for (const uint32_t s : (*surface)->sampleOfVertex) out.push_back((*closed)[s]);
  return out;
}

Result<Document> withUnwrapped(const Document& document, const UnwrapSetting& setting,
                               const Progress& progress, Unwrapped* made) {
  const auto hidden = hiddenAtVertices(*document.sculpt, [&](float f) { return report(progress, 0.2f * f); });
  if (!hidden) return hidden.error();
  auto done = unwrapped(*document.sculpt, setting, *hidden,
                        [&](float f) { return report(progress, 0.2f + 0.8f * f); });
  if (!done) return done.error();
  if (made) *made = *done;
  return withUvs(document, std::move(done->set));
}

}  // namespace juvenor
