// Where a place of the old skin lies on the new one: between the new samples whose old places are around it.
#pragma once

#include "core/layers/sources/moved_skin.h"
#include "core/surface/rays/rays.h"

namespace juvenor {

class NewPlaces {
 public:
  /// What each new sample was on the old skin: its place, and the way that looked.
  struct Was {
    std::vector<Vec3> positions, normals;
  };
  /// `parts`: for each part of the new sculpt those of the old one it may come from.
  NewPlaces(std::shared_ptr<const Surface> fresh, std::shared_ptr<const Was> was, RaysPointer old,
            std::vector<std::set<uint32_t>> parts);

  /// Nothing where the new sculpt has no skin of that part that looks the same way. `part` kNone: any.
  std::optional<MovedPlace> find(const Vec3& place, uint32_t part) const;

 private:
  std::optional<uint32_t> nearest(const Vec3& place, const Vec3& normal, uint32_t part) const;

  std::shared_ptr<const Surface> fresh_;
  std::shared_ptr<const Was> was_;
  RaysPointer old_;
  std::vector<std::set<uint32_t>> parts_;
  std::vector<Box> blocks_;  ///< of old places, of every kBlockSize samples
};

}  // namespace juvenor
