// What is worked out for a slide from the skin it lies on: the light its photo was taken in, the tones it is
// to match, and how far its pinned places are from the skin they are pinned to.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// Fits the light the photo was taken in on the skin it lands on, to be divided out (SlideTone::light).
Result<Slide> withLightFitted(const Document& document, const Slide& slide, const Progress& progress = {});

/// Whose tones a slide is matched to: those of the skin beneath it, or those where a layer's mask shows, or
/// where one hue zone of a layer works.
struct TonesWanted {
  std::optional<uint32_t> layer;
  std::string zone;  ///< name of a zone of that layer; empty: the layer's mask
};

/// Sets what its tones are matched from and to: from where it lands, to the skin as it is without it.
Result<Slide> withTonesMatched(const Document& document, const Slide& slide, const TonesWanted& wanted = {},
                               const Progress& progress = {});

/// ΔE2000 (CIE 2000, under D65) between what the photo shows at a pin and the skin it is pinned to.
struct PinDifference {
  double photo = 0;  ///< as it was taken
  double toned = 0;  ///< evened, lifted and matched
};

/// One for each pin, nothing for one whose place the photo does not show; the skin is that without the slide.
Result<std::vector<std::optional<PinDifference>>> pinDifferences(const Document& document, const Slide& slide,
                                                                 const Progress& progress = {});

}  // namespace juvenor
