#include "core/textures/sheet_layout.h"

#include <tbb/parallel_sort.h>

#include <algorithm>
#include <numeric>

#include "core/sculpt/uv_places.h"
#include "core/textures/texel_grid.h"
#include "core/textures/worn_mesh.h"

namespace juvenor {
namespace {

// Farther out nothing is looked at, and places keep no fine digits.
constexpr float kFarthest = 1000;
// What refining places between two corners comes out alike from both sides, but for the last digits.
constexpr float kSamePlace = 1e-6f;

bool isLaid(const std::array<Vec2, 3>& uv) {
  return std::ranges::all_of(
      uv, [](const Vec2& p) { return p.allFinite() && p.cwiseAbs().maxCoeff() < kFarthest; });
}

struct Flattened {
  Surface flat;
  std::vector<uint32_t> lowest;  ///< of each island (by its root) the lowest triangle of the sculpt
  std::vector<uint32_t> root;    ///< of each place the root of its island
};

uint32_t rootOf(std::vector<uint32_t>& parent, uint32_t i) {
  while (parent[i] != i) i = parent[i] = parent[parent[i]];
  return i;
}

// The triangles over places in the layout. Place 0 is that of what has none.
Flattened flattened(const Surface& skin, const WornMesh& worn, const SkinLayout& layout) {
  Flattened out;
  UvSet places;
  places.coordinates.emplace_back(0, 0);
  UvPlaces of(places, skin.size(), kSamePlace);
  out.flat.triangles.resize(skin.triangles.size());
  out.flat.triangleParts = skin.triangleParts;
  for (size_t t = 0; t < skin.triangles.size(); ++t) {
    const auto& corners = worn.uv[layout.sculptTriangle[t]];
    if (!isLaid(corners)) continue;
    for (size_t k = 0; k < 3; ++k)
      out.flat.triangles[t][k] = of.of(skin.triangles[t][k], atCorner(corners, layout, t, k));
  }
  std::vector<uint32_t>& parent = out.root;
  parent.resize(places.coordinates.size());
  std::iota(parent.begin(), parent.end(), 0u);
  for (const Triangle& t : out.flat.triangles)
    for (size_t k = 1; k < 3; ++k) {
      const uint32_t a = rootOf(parent, t[0]), b = rootOf(parent, t[k]);
      parent[std::max(a, b)] = std::min(a, b);
    }
  for (uint32_t i = 0; i < parent.size(); ++i) parent[i] = rootOf(parent, i);
  out.lowest.assign(parent.size(), kNone);
  for (size_t t = 0; t < out.flat.triangles.size(); ++t) {
    uint32_t& lowest = out.lowest[parent[out.flat.triangles[t][0]]];
    lowest = std::min(lowest, layout.sculptTriangle[t]);
  }
  const auto count = static_cast<float>(worn.triangles.size() + 1);
  out.flat.positions.reserve(places.coordinates.size());
  for (size_t i = 0; i < places.coordinates.size(); ++i) {
    const Vec2& uv = places.coordinates[i];
    out.flat.positions.emplace_back(uv.x(), uv.y(),
                                    i == 0 ? 0.f : 1 - static_cast<float>(out.lowest[parent[i]]) / count);
    out.flat.bounds.add(out.flat.positions.back());
  }
  return out;
}

// Edges that only one triangle of the layout has.
std::vector<uint8_t> bordersOf(const Surface& flat) {
  struct Edge {
    uint64_t ends;
    uint32_t at;  // three times its triangle, and which of its edges
  };
  std::vector<Edge> edges(3 * flat.triangles.size());
  parallel(flat.triangles.size(), [&](size_t t) {
    const Triangle& c = flat.triangles[t];
    for (size_t k = 0; k < 3; ++k) {
      const auto [low, high] = std::minmax(c[k], c[(k + 1) % 3]);
      edges[3 * t + k] = {static_cast<uint64_t>(low) << 32 | high, static_cast<uint32_t>(3 * t + k)};
    }
  });
  tbb::parallel_sort(edges, [](const Edge& a, const Edge& b) { return a.ends < b.ends; });
  std::vector<uint8_t> out(flat.triangles.size(), 0);
  for (size_t i = 0; i < edges.size(); ++i) {
    const bool alone = (i == 0 || edges[i - 1].ends != edges[i].ends) &&
                       (i + 1 == edges.size() || edges[i + 1].ends != edges[i].ends);
    if (alone) out[edges[i].at / 3] = static_cast<uint8_t>(out[edges[i].at / 3] | 1u << edges[i].at % 3);
  }
  return out;
}

void layPatches(const Flattened& from, Sheet& sheet) {
  const size_t blocks = (sheet.skin->size() + kBlockSize - 1) / kBlockSize;
  std::vector<std::vector<Sheet::Patch>> patches(blocks);
  for (size_t t = 0; t < from.flat.triangles.size(); ++t) {
    const Triangle& f = from.flat.triangles[t];
    if (f[0] == f[1]) continue;
    const uint32_t island = from.root[f[0]];
    for (size_t k = 0; k < 3; ++k) {
      const size_t block = sheet.skin->triangles[t][k] / kBlockSize;
      if (k > 0 && block == sheet.skin->triangles[t][k - 1] / kBlockSize) continue;
      auto& of = patches[block];
      auto at = std::ranges::find(of, island, &Sheet::Patch::island);
      if (at == of.end()) at = of.insert(of.end(), {island, {}});
      for (const uint32_t place : f) at->box.add(from.flat.positions[place]);
    }
  }
  sheet.patchStart = {0};
  for (const auto& of : patches) {
    sheet.patches.insert(sheet.patches.end(), of.begin(), of.end());
    sheet.patchStart.push_back(sheet.patches.size());
  }
}

}  // namespace

Result<SheetPointer> sheetOf(const Document& document, size_t uvSet, const Progress& progress) {
  if (uvSet >= document.sculpt->uvSets.size()) return Error{"has no UVs", document.sculpt->name};
  const auto layout = skinLayout(document, [&](float f) { return report(progress, 0.4f * f); });
  if (!layout) return layout.error();
  const WornMesh worn = wornSculpt(document, uvSet);
  if (!report(progress, 0.5f)) return cancelledError();
  auto out = std::make_shared<Sheet>();
  out->skin = document.surface;
  Flattened laid = flattened(*document.surface, worn, *layout);
  if (!report(progress, 0.7f)) return cancelledError();
  out->borders = bordersOf(laid.flat);
  layPatches(laid, *out);
  if (out->patches.empty()) return Error{"lays nothing out", document.sculpt->uvSets[uvSet].name};
  out->tiles = tilesOf(worn.triangles.size(), [&](size_t t) { return worn.uv[t]; });
  out->flat = std::make_shared<const Surface>(std::move(laid.flat));
  auto rays =
      buildRays(out->flat, Rays::Quality::Full, [&](float f) { return report(progress, 0.8f + 0.2f * f); });
  if (!rays) return rays.error();
  out->rays = std::move(*rays);
  return SheetPointer(std::move(out));
}

}  // namespace juvenor
