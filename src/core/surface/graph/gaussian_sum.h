// Values spread along the skin by a sum of Gaussians, in one go: heat that flows for a while turns a spot
// into a Gaussian, and the heat of all the times together is one polynomial of the graph's Laplacian, written
// in Chebyshev's (Tal-Ezer and Kosloff 1984 for the exponential; Hammond, Vandergheynst, Gribonval 2011 for
// graphs). Three values a node share the walk over the edges.
#pragma once

#include <array>

#include "core/progress.h"
#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// A Gaussian and its part in each of the three values.
struct GaussianPart {
  float variance;  ///< scene units squared, along any one direction
  std::array<float, 3> part;
};

/// The sum of the Gaussians over what the nodes have. What is even becomes itself times the sum of the parts,
/// to the last bits, and the mean over the area likewise; no value leaves the range of what comes in by more
/// than a thousandth. The time follows the root of the widest variance over the area of a node. An error only
/// when it is cancelled.
Result<std::vector<std::array<float, 3>>> gaussianSum(const SkinGraph& graph,
                                                      std::span<const std::array<float, 3>> values,
                                                      std::span<const GaussianPart> gaussians,
                                                      const Progress& progress = {});

}  // namespace juvenor
