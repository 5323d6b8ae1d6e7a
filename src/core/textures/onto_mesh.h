// Where another mesh finds the skin: from each of its places rays go both ways along its smooth normal, and
// the nearest skin that looks the same way is the one that is meant. What looks the other way (the inside of
// a lip, the back of a lid) is passed through, and a part that bears the name of one of the sculpt's finds
// that one alone.
#pragma once

#include <set>

#include "core/surface/rays/rays.h"
#include "core/textures/worn_mesh.h"

namespace juvenor {

class OntoMesh {
 public:
  /// Both outlive it. `reach`: scene units each way.
  OntoMesh(const Document& document, const WornMesh& mesh, RaysPointer rays, float reach);

  struct Found {
    Hit hit;             ///< on the skin; its triangle is kNone where nothing was found
    float distance = 0;  ///< along the mesh's normal, scene units
  };
  /// `weights`: of the second and third corner.
  Found at(uint32_t triangle, const Vec2& weights) const;

 private:
  /// The first skin along a way that looks along `normal`.
  Hit facing(Ray ray, const Vec3& normal, float reach, const std::set<uint32_t>& hidden) const;

  const Surface& surface_;
  const WornMesh& mesh_;
  RaysPointer rays_;
  float reach_;
  std::vector<std::set<uint32_t>> hidden_;  ///< of the sculpt's parts, for each of the mesh's
};

/// How far the skin lies off a mesh: twice the distance that 99 of 100 of its vertices keep, and a point's
/// spacing; scene units.
float measuredReach(const WornMesh& mesh, const Rays& rays);

}  // namespace juvenor
