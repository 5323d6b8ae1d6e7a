// Cells as documents keep them. They come from files: what is no cell is refused.
#include <algorithm>
#include <array>

#include "core/growth/kept_arrays.h"
#include "core/growth/skin_cells.h"

namespace juvenor {
namespace {

struct KeptCell {
  std::array<float, 11> numbers;  // position, normal, along, width, length
  uint32_t node, key;
};

}  // namespace

void keepCells(std::span<const SkinCell> cells, std::string& out) {
  std::vector<KeptCell> kept;
  kept.reserve(cells.size());
  for (const SkinCell& c : cells)
    kept.push_back({{c.position.x(), c.position.y(), c.position.z(), c.normal.x(), c.normal.y(), c.normal.z(),
                     c.along.x(), c.along.y(), c.along.z(), c.width, c.length},
                    c.node,
                    c.key});
  const auto count = static_cast<uint32_t>(kept.size());
  keepArray(std::span(&count, 1), out);
  keepArray(std::span<const KeptCell>(kept), out);
}

bool takeCells(std::string_view& bytes, std::vector<SkinCell>& out) {
  std::vector<uint32_t> count;
  std::vector<KeptCell> kept;
  if (!takeArray(bytes, 1, count) || !takeArray(bytes, count[0], kept)) return false;
  out.clear();
  out.reserve(kept.size());
  for (const KeptCell& k : kept) {
    const auto& n = k.numbers;
    if (!std::ranges::all_of(n, [](float v) { return std::isfinite(v); })) return false;
    if (!(n[9] > 0 && n[10] > 0)) return false;
    out.push_back(
        {Vec3(n[0], n[1], n[2]), Vec3(n[3], n[4], n[5]), Vec3(n[6], n[7], n[8]), n[9], n[10], k.node, k.key});
  }
  return true;
}

}  // namespace juvenor
