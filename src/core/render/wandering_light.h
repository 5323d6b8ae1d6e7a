// Light that wanders in skin before it leaves it again: what a sample receives is spread along the skin by
// the sum of Gaussians of d'Eon, Luebke, Enderton 2007 (GPU Gems 3, chapter 14; the table from memory), over
// the ladder that melting uses; and what enters thin forms from behind glows through them by the
// same table (cf. Jimenez and others 2010).
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/progress.h"
#include "core/surface/graph/skin_graph.h"
#include "core/surface/rays/rays.h"

namespace juvenor {

struct SkinGaussian {
  float variance;             ///< mm²
  std::array<float, 3> part;  ///< of red, green and blue; each colour sums to 1
};
/// From the narrowest to the widest.
std::span<const SkinGaussian> skinGaussians();

/// Linear red, green and blue.
using ReceivedLight = std::array<float, 3>;

/// Spreads what each node of the finest graph receives. `millimetres` of a scene unit; `depth` scales how
/// far. The mean over the area stays. An error only when it is cancelled.
Result<std::vector<ReceivedLight>> wandered(const std::shared_ptr<const SkinLadder>& ladder,
                                            std::span<const ReceivedLight> received, float millimetres,
                                            float depth, const Progress& progress = {},
                                            std::span<const SkinGaussian> gaussians = skinGaussians());

/// Where light that leaves a sample may have come in on the other side: straight through along the normal.
struct ThroughForm {
  uint32_t sample = kNone;  ///< kNone: too thick for light
  float way = 0;            ///< scene units
};
/// For every sample; forms thicker than `most` (scene units) let nothing through.
std::vector<ThroughForm> throughForms(const Rays& rays, float most);

/// The part of the light that comes through so many millimetres, by colour.
std::array<float, 3> glowThrough(float millimetres);
/// Beyond so many millimetres nothing comes through that one would see.
inline constexpr float kThickestGlow = 9;

/// Adds to `light` what comes through thin forms from what was received on their other side: three colours,
/// or three values of the one colour.
void addGlow(std::span<ReceivedLight> light, std::span<const ReceivedLight> received,
             std::span<const ThroughForm> through, float millimetres, float depth,
             std::optional<size_t> color = {});

}  // namespace juvenor
