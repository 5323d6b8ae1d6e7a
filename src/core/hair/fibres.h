// The fibres of all layers of hair of a stack, as curves. They grow step by step along the direction guide,
// lie down or stand up on the way, stay above the skin, and are drawn together in clumps toward their tips.
// They follow from the layers alone and never touch the sculpt.
#pragma once

#include <memory>
#include <set>

#include "core/layers/prepared_layer.h"
#include "core/surface/rays/rays.h"

namespace juvenor {

/// Of all layers together; what would be more is thinned out evenly.
inline constexpr size_t kMostFibres = 400'000;

struct Fibre {
  uint32_t first = 0;              ///< of its points
  uint32_t points = 0;             ///< with one before its root and one beyond its tip, which only shape it
  uint32_t root = 0;               ///< the sample next to it
  uint32_t layer = 0;              ///< the id of its layer
  Vec3 absorption = Vec3::Zero();  ///< along one radius (hair_tone.h)
  float shine = 0.6f;              ///< 0…1
};

/// A place and the radius there.
using FibrePoint = Eigen::Vector4f;

struct Fibres {
  std::vector<FibrePoint> points;  ///< Catmull and Rom's curves go through all but the outer ones
  std::vector<Fibre> fibres;
  std::vector<uint32_t> segments;  ///< the first of four points of each
  std::vector<uint32_t> fibreOf;   ///< of each segment
  Box bounds;                      ///< of all of them
  float longest = 0;               ///< scene units

  bool empty() const { return fibres.empty(); }
  size_t bytes() const;
};
using FibresPointer = std::shared_ptr<const Fibres>;

/// A place on a segment, `along` 0…1, and the unit way toward the tip there.
struct FibrePlace {
  Vec3 position, tangent;
  float radius;
};
FibrePlace placeOn(const Fibres& fibres, uint32_t segment, float along);
/// How far from root to tip that is, 0…1.
float towardTip(const Fibres& fibres, uint32_t segment, float along);

/// What grows from a stack that was worked out and linked (below_chunks.h), but not on hidden parts: of
/// layers of hair that take part, as many as their masks and opacities show. `rays` of the same surface. The
/// only error is a cancel.
Result<FibresPointer> grownFibres(const PreparedStack& stack, const Rays& rays,
                                  const std::set<uint32_t>& hidden, const Progress& progress = {});

/// The layers of hair that take part, and the groups around them: fibres are others when one of these is.
LayerStack hairLayers(const LayerStack& stack);

}  // namespace juvenor
