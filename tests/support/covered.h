// Cells over a made-up sculpt.
#pragma once

#include "core/growth/cell_places.h"
#include "support/made.h"

namespace juvenor::test {

// Even cells of one width over a sculpt, all lying one way.
struct Covered {
  std::shared_ptr<const Surface> surface;
  SurfaceMaps maps;
  CellGround ground;
  SkinCells cells;
  CellPlaces places;

  Covered(const Sculpt& sculpt, float width, const CellSetting& setting = {}, const LeafShape* leaf = nullptr)
      : Covered(sculpt, setting, leaf, width, [&](const Vec3&) { return width; }) {}

  template <class WidthAt>
  Covered(const Sculpt& sculpt, const CellSetting& setting, const LeafShape* leaf, float finest,
          WidthAt widthAt)
      : surface(surfaceOf(sculpt)), maps(surface) {
    std::vector<Vec3> directions;
    std::vector<float> widths;
    for (uint32_t s = 0; s < surface->size(); ++s) {
      const Vec3& n = surface->normals[s];
      directions.push_back(normalizedOr(Vec3::UnitX() - n.x() * n, n.unitOrthogonal()));
      widths.push_back(widthAt(surface->positions[s]));
    }
    ground = cellGround(*surface, maps.ladder(), directions, widths, finest);
    cells = *skinCells(maps, ground, setting);
    places = leaf ? *leafPlaces(*surface, ground, cells, *leaf) : *tiledPlaces(*surface, ground, cells);
  }

  std::vector<float> areas() const {
    std::vector<float> out(cells.cells.size(), 0);
    for (size_t s = 0; s < surface->size(); ++s)
      if (places.of[s].cell != kNone) out[places.of[s].cell] += surface->areas[s];
    return out;
  }
};

}  // namespace juvenor::test
