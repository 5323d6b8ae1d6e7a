#include "core/textures/attach_charts.h"

#include <algorithm>

#include "core/textures/cut_charts.h"
#include "core/textures/uv_stretch.h"

namespace juvenor {
namespace {

class Attaching {
 public:
  Attaching(const ChartMesh& mesh, std::vector<FlatChart> charts)
      : mesh_(mesh),
        flat_(std::move(charts)),
        chartOf_(mesh.triangles.size(), kNone),
        place_(mesh.triangles.size(), 0) {
    for (uint32_t c = 0; c < flat_.size(); ++c) note(c, 0);
  }
  Result<std::vector<FlatChart>> run(size_t small, const Progress& progress) {
    const std::vector<uint32_t> order = smallestFirst(flat_);
    for (size_t i = 0; i < order.size(); ++i) {
      const uint32_t c = order[i];
      if (flat_[c].triangles.size() >= small) continue;
      if (!report(progress, static_cast<float>(i) / static_cast<float>(order.size())))
        return cancelledError();
      for (const uint32_t into : chartsBeside(mesh_, flat_[c].triangles, chartOf_))
        if (attach(into, c)) break;
    }
    std::erase_if(flat_, [](const FlatChart& f) { return f.triangles.empty(); });
    return std::move(flat_);
  }

 private:
  void note(uint32_t chart, size_t from) {
    for (size_t i = from; i < flat_[chart].triangles.size(); ++i) {
      chartOf_[flat_[chart].triangles[i]] = chart;
      place_[flat_[chart].triangles[i]] = static_cast<uint32_t>(i);
    }
  }
  // Where the points along a splinter's border with a chart lie there; nothing where one lies twice.
  std::optional<KnownPlaces> common(uint32_t into, uint32_t from) const {
    KnownPlaces out;
    for (const uint32_t t : flat_[from].triangles)
      for (size_t e = 0; e < 3; ++e) {
        const uint32_t next = mesh_.across[t][e];
        if (next == kNone || chartOf_[next] != into) continue;
        for (const uint32_t point : {mesh_.triangles[t][e], mesh_.triangles[t][(e + 1) % 3]})
          for (size_t k = 0; k < 3; ++k) {
            if (mesh_.triangles[next][k] != point) continue;
            const Vec2& there = flat_[into].corners[place_[next]][k];
            const auto [at, isNew] = out.emplace(point, there);
            if (!isNew && at->second != there) return std::nullopt;
          }
      }
    return out;
  }
  // The splinter turned and moved so that its common points come as near as they can to where they lie
  // there, and then those exactly.
  std::vector<std::array<Vec2, 3>> laidOnto(const KnownPlaces& common, const FlatChart& splinter) const {
    Vec2 here = Vec2::Zero(), there = Vec2::Zero();
    float count = 0;
    const auto eachCommon = [&](auto&& take) {
      for (size_t i = 0; i < splinter.triangles.size(); ++i)
        for (size_t k = 0; k < 3; ++k)
          if (const auto at = common.find(mesh_.triangles[splinter.triangles[i]][k]); at != common.end())
            take(splinter.corners[i][k], at->second);
    };
    eachCommon([&](const Vec2& a, const Vec2& b) {
      here += a;
      there += b;
      ++count;
    });
    here /= count;
    there /= count;
    float c = 0, s = 0;
    eachCommon([&](const Vec2& a, const Vec2& b) {
      const Vec2 p = a - here, q = b - there;
      c += p.dot(q);
      s += p.x() * q.y() - p.y() * q.x();
    });
    const float length = std::max(1e-30f, std::hypot(c, s));
    Eigen::Matrix2f turn;
    turn << c / length, -s / length, s / length, c / length;
    std::vector<std::array<Vec2, 3>> out = splinter.corners;
    for (size_t i = 0; i < out.size(); ++i)
      for (size_t k = 0; k < 3; ++k) {
        const auto at = common.find(mesh_.triangles[splinter.triangles[i]][k]);
        out[i][k] = at != common.end() ? at->second : Vec2(there + turn * (out[i][k] - here));
      }
    return out;
  }
  // Whether no triangle turns over or is drawn out much.
  bool liesWell(const FlatChart& splinter, const std::vector<std::array<Vec2, 3>>& corners) const {
    constexpr double kMostStretch = 1.6;
    for (size_t i = 0; i < corners.size(); ++i) {
      const auto& p = corners[i];
      const Vec2 a = p[1] - p[0], b = p[2] - p[0];
      const double area = 0.5 * (static_cast<double>(a.x()) * static_cast<double>(b.y()) -
                                 static_cast<double>(a.y()) * static_cast<double>(b.x()));
      const Triangle& t = mesh_.triangles[splinter.triangles[i]];
      if (!(area > 0)) return false;
      const TriangleStretch stretch =
          stretchOf({mesh_.positions[t[0]], mesh_.positions[t[1]], mesh_.positions[t[2]]}, p, area);
      if (!(stretch.mean2 < kMostStretch * kMostStretch) || !(1 / kMostStretch < stretch.mean2)) return false;
    }
    return true;
  }
  // Whether it would lie over what is there.
  bool covers(const FlatChart& into, const FlatChart& splinter,
              const std::vector<std::array<Vec2, 3>>& corners) const {
    Eigen::AlignedBox2f box;
    for (const auto& c : corners)
      for (const Vec2& p : c) box.extend(p);
    FlatChart near;
    for (size_t i = 0; i < into.triangles.size(); ++i) {
      Eigen::AlignedBox2f own;
      for (const Vec2& p : into.corners[i]) own.extend(p);
      if (!own.intersects(box)) continue;
      near.triangles.push_back(kNone);
      near.corners.push_back(into.corners[i]);
    }
    near.triangles.insert(near.triangles.end(), splinter.triangles.begin(), splinter.triangles.end());
    near.corners.insert(near.corners.end(), corners.begin(), corners.end());
    return std::ranges::any_of(overOthers(near), [](uint32_t t) { return t != kNone; });
  }
  // `from` becomes part of `into`, or everything stays.
  bool attach(uint32_t into, uint32_t from) {
    const auto places = common(into, from);
    if (!places || places->size() < 2) return false;
    FlatChart& splinter = flat_[from];
    const auto corners = laidOnto(*places, splinter);
    if (!liesWell(splinter, corners) || covers(flat_[into], splinter, corners)) return false;
    FlatChart& whole = flat_[into];
    const size_t before = whole.triangles.size();
    whole.triangles.insert(whole.triangles.end(), splinter.triangles.begin(), splinter.triangles.end());
    whole.corners.insert(whole.corners.end(), corners.begin(), corners.end());
    whole.skin += splinter.skin;
    whole.area += splinter.area;
    splinter = {};
    note(into, before);
    return true;
  }

  const ChartMesh& mesh_;
  std::vector<FlatChart> flat_;
  std::vector<uint32_t> chartOf_, place_;
};

}  // namespace

Result<std::vector<FlatChart>> withSplintersAttached(const ChartMesh& mesh, std::vector<FlatChart> charts,
                                                     size_t small, const Progress& progress) {
  return Attaching(mesh, std::move(charts)).run(small, progress);
}

}  // namespace juvenor
