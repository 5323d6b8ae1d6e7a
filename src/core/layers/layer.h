// A sheet of colour, gloss, relief, metal and glow with a mask, a blend mode and an opacity, in one of the
// three strata.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/color/blending.h"
#include "core/layers/mask_steps.h"
#include "core/layers/source.h"

namespace juvenor {

/// How strongly each channel of a layer works: 0…1, relief −1…1.
struct ChannelStrengths {
  std::array<float, kChannelCount> value{};

  static constexpr ChannelStrengths all(float strength) {
    ChannelStrengths out;
    out.value.fill(strength);
    return out;
  }
  float& operator[](Channel c) { return value[static_cast<size_t>(c)]; }
  float operator[](Channel c) const { return value[static_cast<size_t>(c)]; }
  bool operator==(const ChannelStrengths&) const = default;
};

struct Layer {
  uint32_t id = 0;
  std::string name;
  Stratum stratum = Stratum::Pigment;
  SourcePointer source;
  std::optional<ScalarField> mask;  ///< 65535 shows, 0 hides; reads as 65535 where never painted
  MaskTerms terms;                  ///< a mask from surface maps under the painted one; empty: none
  MaskSteps steps{};                ///< what is done to all its mask, live
  BlendMode blend = BlendMode::Normal;
  float opacity = 1;                                      ///< 0…1, of all channels
  ChannelStrengths strengths = ChannelStrengths::all(1);  ///< of each beside that
  std::array<ChannelMode, kChannelCount> modes{};  ///< of those beside colour, where they mean something
  bool visible = true;
  bool locked = false;
  uint32_t maskFrom = 0;    ///< the id of a layer or group: shows only where that covers, live; 0: of none
  bool maskOff = false;     ///< its mask, painted and from maps, hides nothing for now
  bool keepsCover = false;  ///< strokes and fills stay where there is paint, as much as there is
  uint32_t group = 0;       ///< the id of the group it lies in (nesting.h); 0: in none
  bool clipped = false;     ///< shows only where what lies below it in the same group covers
  bool folded = false;      ///< of a group: its rows are not listed
};

using LayerPointer = std::shared_ptr<const Layer>;
/// Bottom first.
using LayerStack = std::vector<LayerPointer>;

/// A mask that shows everything.
inline ScalarField openMask(size_t samples) {
  return ScalarField(samples, {65535});
}
/// One that hides everything.
inline ScalarField closedMask(size_t samples) {
  return ScalarField(samples, {0});
}

}  // namespace juvenor
