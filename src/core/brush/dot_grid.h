// Where dots lie, so that the next keep their distance: a hash of cells as wide as that distance. Dots on
// skin that faces the other way (the far side of a fin, the other lip) do not count.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_map>
#include <vector>

#include "core/vec.h"

namespace juvenor {

class DotGrid {
 public:
  explicit DotGrid(float distance) : distance_(distance) {}

  bool isFree(const Vec3& place, const Vec3& normal) const {
    const Cell cell = cellOf(place);
    for (int k = -1; k <= 1; ++k)
      for (int j = -1; j <= 1; ++j)
        for (int i = -1; i <= 1; ++i) {
          const auto found = cells_.find({cell[0] + i, cell[1] + j, cell[2] + k});
          if (found == cells_.end()) continue;
          for (const Dot& d : found->second)
            if ((d.place - place).squaredNorm() < distance_ * distance_ && d.normal.dot(normal) > 0)
              return false;
        }
    return true;
  }
  void add(const Vec3& place, const Vec3& normal) { cells_[cellOf(place)].push_back({place, normal}); }

 private:
  using Cell = std::array<int, 3>;
  struct Hash {
    size_t operator()(const Cell& c) const {
      return static_cast<size_t>(c[0]) * 0x8da6b343u ^ static_cast<size_t>(c[1]) * 0xd8163841u ^
             static_cast<size_t>(c[2]) * 0xcb1ab31fu;
    }
  };
  struct Dot {
    Vec3 place, normal;
  };
  Cell cellOf(const Vec3& p) const {
    const auto at = [&](float v) {
      return static_cast<int>(std::clamp(std::floor(v / distance_), -1e9f, 1e9f));
    };
    return {at(p.x()), at(p.y()), at(p.z())};
  }

  float distance_;
  std::unordered_map<Cell, std::vector<Dot>, Hash> cells_;
};

}  // namespace juvenor
