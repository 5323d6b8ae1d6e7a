#include "core/textures/uv_layout.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/sculpt/polygon_groups.h"
#include "core/textures/cover_tiles.h"
#include "core/textures/uv_stretch.h"

namespace juvenor {
namespace {

// Twice the signed area.
double cross(const Vec2& a, const Vec2& b) {
  return static_cast<double>(a.x()) * static_cast<double>(b.y()) -
         static_cast<double>(a.y()) * static_cast<double>(b.x());
}

double areaOf(const UvTriangle& t) {
  return 0.5 * cross(t.uv[1] - t.uv[0], t.uv[2] - t.uv[0]);
}

double skinOf(const Sculpt& sculpt, const UvTriangle& t) {
  const Eigen::Vector3d a = sculpt.vertices[t.vertices[0]].cast<double>(),
                        b = sculpt.vertices[t.vertices[1]].cast<double>(),
                        c = sculpt.vertices[t.vertices[2]].cast<double>();
  return 0.5 * (b - a).cross(c - a).norm();
}

void measureIslands(const Sculpt& sculpt, const UvSet& set, std::span<const UvTriangle> triangles,
                    UvLayout& out) {
  const std::vector<uint32_t> islands = islandsOfPolygons(sculpt, set);
  struct Sum {
    UvIsland island;
    double forward = 0, backward = 0;
    uint32_t turned = 0, straight = 0;
  };
  std::unordered_map<uint32_t, Sum> sums;
  for (size_t i = 0; i < triangles.size(); ++i) {
    const UvTriangle& t = triangles[i];
    Sum& sum = sums[islands[t.polygon]];
    const double area = areaOf(t);
    (area > 0 ? sum.forward : sum.backward) += std::abs(area);
    sum.straight += area > 0;
    sum.turned += area < 0;
    UvIsland& island = sum.island;
    if (island.triangles++ == 0) {
      island.low = island.high = t.uv[0];
      island.part = sculpt.polygonPart[t.polygon];
    }
    island.skin += skinOf(sculpt, t);
    island.area += std::abs(area);
    for (const Vec2& p : t.uv) {
      island.low = island.low.cwiseMin(p);
      island.high = island.high.cwiseMax(p);
    }
  }
  for (auto& [first, sum] : sums) {
    sum.island.mirrored = sum.backward > sum.forward;
    out.folded += sum.island.mirrored ? sum.straight : sum.turned;
    out.islands.push_back(sum.island);
  }
  std::ranges::sort(out.islands, [](const UvIsland& a, const UvIsland& b) {
    return std::tuple(b.area, a.low.x(), a.low.y()) < std::tuple(a.area, b.low.x(), b.low.y());
  });
}

// The density below which a part of the skin lies; `by` density, with the skin of each.
float densityAt(std::span<const std::pair<float, double>> by, double skin, double part) {
  double sum = 0;
  for (const auto& [density, area] : by) {
    sum += area;
    if (sum >= part * skin) return density;
  }
  return by.empty() ? 0.f : by.back().first;
}

void measureStretch(const Sculpt& sculpt, std::span<const UvTriangle> triangles, UvLayout& out) {
  std::vector<std::pair<float, double>> densities;
  double skin = 0, flat = 0, sum = 0, worst2 = 0;
  for (const UvTriangle& t : triangles) {
    const double area = areaOf(t), own = skinOf(sculpt, t);
    if (own <= 0) continue;
    if (!(std::abs(area) > 1e-15)) {
      ++out.flat;
      continue;
    }
    const TriangleStretch s = stretchOf(
        {sculpt.vertices[t.vertices[0]], sculpt.vertices[t.vertices[1]], sculpt.vertices[t.vertices[2]]},
        t.uv, area);
    skin += own;
    flat += std::abs(area);
    sum += own * s.mean2;
    worst2 = std::max(worst2, s.most2);
    densities.emplace_back(static_cast<float>(std::sqrt(std::abs(area) / own)), own);
  }
  if (skin <= 0) return;
  std::ranges::sort(densities);
  out.thin = densityAt(densities, skin, 0.05);
  out.middle = densityAt(densities, skin, 0.5);
  out.dense = densityAt(densities, skin, 0.95);
  const double size = flat / skin;  // as if the layout had the size of the skin
  out.stretch = static_cast<float>(std::sqrt(sum / skin * size));
  out.worst = static_cast<float>(std::sqrt(worst2 * size));
}

bool reachesOutside(const UvTriangle& t) {
  // (a place on the far border of the last tile is in it)
  return std::ranges::any_of(t.uv, [](const Vec2& p) {
    return !(p.x() >= 0 && p.x() <= 10 && p.y() >= 0) ||
           (p.y() > 0 && !tileOf({0, std::nextafter(p.y(), 0.f)}));
  });
}

}  // namespace

std::optional<int> tileOf(const Vec2& uv) {
  if (!(uv.x() >= 0 && uv.x() < 10 && uv.y() >= 0 && uv.y() < 900)) return std::nullopt;
  const int number = 1001 + static_cast<int>(uv.x()) + 10 * static_cast<int>(uv.y());
  return number <= 9999 ? std::optional(number) : std::nullopt;
}

UvTriangles uvTriangles(const Sculpt& sculpt, size_t set) {
  UvTriangles out;
  const UvSet& uv = sculpt.uvSets[set];
  std::vector<std::array<uint32_t, 3>> cut;
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    const auto corners = sculpt.polygon(p);
    const size_t start = sculpt.polygonStart[p];
    const auto placed = [&](size_t k) {
      const uint32_t at = uv.corner[start + k];
      return at != kNone && uv.coordinates[at].allFinite();
    };
    bool whole = true;
    for (size_t k = 0; k < corners.size(); ++k) whole = whole && placed(k);
    if (!whole) {
      ++out.missing;
      continue;
    }
    cut.clear();
    triangulate(sculpt.vertices, corners, cut);
    for (const auto& t : cut) {
      UvTriangle triangle;
      triangle.polygon = static_cast<uint32_t>(p);
      for (size_t k = 0; k < 3; ++k) {
        triangle.vertices[k] = corners[t[k]];
        triangle.uv[k] = uv.coordinates[uv.corner[start + t[k]]];
      }
      out.triangles.push_back(triangle);
    }
  }
  return out;
}

Result<UvLayout> uvLayout(const Sculpt& sculpt, size_t set, const Progress& progress) {
  UvLayout out;
  const UvTriangles all = uvTriangles(sculpt, set);
  out.triangles = all.triangles.size();
  out.missing = all.missing;
  if (!report(progress, 0.2f)) return cancelledError();
  measureIslands(sculpt, sculpt.uvSets[set], all.triangles, out);
  if (!report(progress, 0.5f)) return cancelledError();
  measureStretch(sculpt, all.triangles, out);
  out.outside = static_cast<size_t>(std::ranges::count_if(all.triangles, reachesOutside));
  auto tiles = coverTiles(all.triangles, kLayoutPixels,
                          [&](float part) { return report(progress, 0.6f + 0.4f * part); });
  if (!tiles) return tiles.error();
  out.tiles = std::move(*tiles);
  return out;
}

}  // namespace juvenor
