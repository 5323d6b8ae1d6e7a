// More samples where vertices are too sparse to paint. Edges are cut at their middle; whether an edge is cut
// depends on the edge alone, so no cracks can appear (the regular 1:4 split when all three are cut, bisection
// otherwise; cf. Bank, Sherman, Weiser 1983; Rivara 1984 for cutting the longest edge first). Added samples
// lie on the flat faces, or round: on the curved edges of PN triangles (Vlachos, Peters, Boyd, Mitchell 2001)
// through the unmoved vertices, with creases where faces part by more than an angle. Either way normals are
// carried over, so that no facets show.
#pragma once

#include <optional>
#include <string_view>

#include "core/surface/surface.h"

namespace juvenor {

/// How a new sample's value comes from three samples of the surface before: indices and weights that sum
/// to 1.
struct Origin {
  std::array<uint32_t, 3> sample{};
  std::array<float, 3> weight{};
};

struct Refined {
  std::shared_ptr<const Surface> surface;
  std::vector<Origin> origins;    ///< one per sample of the new surface
  std::vector<uint32_t> parents;  ///< for each of its triangles the one of the surface before it lies in
};

enum class RefineShape { Flat, Round };
std::string_view refineShapeKey(RefineShape shape);
std::optional<RefineShape> refineShapeFromKey(std::string_view key);

struct Refinement {
  float spacing = 0;  ///< scene units down to which edges are cut; 0: every triangle into four, once
  RefineShape shape = RefineShape::Flat;
  float crease = 40;  ///< degrees between faces from which on their edge stays sharp; for round ones
  /// Around these samples of the surface before alone, thinning out beyond them: the first and one past the
  /// last, by pairs, ascending (refine_where.h), with a spacing; none: everywhere.
  std::vector<uint32_t> where = {};

  bool operator==(const Refinement&) const = default;
  auto operator<=>(const Refinement&) const = default;
};

/// More samples than any machine this is made for can hold beside everything else.
inline constexpr size_t kMostSamples = 40'000'000;

/// Cuts every edge once, or those longer than 4/3 of the spacing until none is left. Refuses above
/// `mostSamples`, and samples that are not there.
Result<Refined> refine(const Surface& surface, const Refinement& refinement,
                       size_t mostSamples = kMostSamples, const Progress& progress = {});

/// About how many samples refining gives, by areas and edges; exact for a regular split.
size_t samplesAfter(const Surface& surface, const Refinement& refinement);

}  // namespace juvenor
