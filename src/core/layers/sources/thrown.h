// Slides thrown onto the form: what of each lands on every sample, hidden from the back and behind other
// forms by rays, dying out where the skin turns away and toward the edges of the picture. Where several see a
// place they are mixed by how squarely and how finely each does (Callieri, Cignoni, Corsini, Scopigno 2008),
// and what they differ by in broad tones is levelled along the skin, so that no seam shows.
#pragma once

#include <memory>
#include <set>
#include <vector>

#include "core/layers/source.h"
#include "core/photo/photo_part.h"

namespace juvenor {

struct Throw {
  std::vector<Slide> slides;
  PhotoPart part = PhotoPart::All;
  float split = 2;        ///< scene units: what is finer is detail, what is broader tone
  float reach = 72;       ///< degrees the skin may turn away until nothing lands on it
  float feather = 0.06f;  ///< of the longer side: over which it dies out toward the edges
  float level = 12;       ///< scene units over which slides are levelled; 0: they stay as they are
  bool color = true;      ///< lays its colours
  float relief =
      0;            ///< scene units a place stands out that is twice as bright as around it; below 0 it sinks
  float gloss = 0;  ///< 0…1: how much wetter such a place is
  /// Parts that were hidden when it was thrown: they stand in nobody's way, whatever is hidden later.
  std::set<uint32_t> without = {};

  ChannelSet channels() const;
  PhotoSplit splitting() const { return {part, split, relief != 0 || gloss > 0}; }
  bool operator==(const Throw&) const = default;
};

template <>
std::span<const Member<Throw>> membersOf();

SourcePointer throwSource(Throw thrown);
/// What a throw is made of, or null for other kinds.
const Throw* throwOf(const LayerSource& source);

/// What one slide brings to a sample.
struct Thrown {
  uint32_t sample = 0;
  float cover = 0;    ///< 0…1
  float weight = 0;   ///< next to other slides'
  LinearColor color;  ///< of detail: what to multiply by
  float detail = 0;   ///< doublings of brightness over what is around
};

/// The samples a slide reaches, ascending. The only error is a cancel, or what the ray structure says.
Result<std::vector<Thrown>> thrownBy(const Slide& slide, const Throw& setting, SurfaceMaps& maps,
                                     const Progress& progress = {});
/// How many pixels of the photo lie across each sample it reaches, 0 elsewhere; see SlideView::fineness.
Result<std::vector<float>> finenessOver(const Slide& slide, const std::set<uint32_t>& without,
                                        SurfaceMaps& maps, const Progress& progress = {});
/// Moves the colours of several slides until they agree in broad tones where more than one lies, by
/// deviations of `size` (scene units) along the skin.
void levelSeams(std::span<std::vector<Thrown>> slides, SurfaceMaps& maps, float size);

/// For every sample whether a camera sees it past the parts it is `without`: 0 hidden … 255 seen, soft over a
/// few samples at the rim.
using SeenBy = std::vector<uint8_t>;
Result<std::shared_ptr<const SeenBy>> seenFrom(const Camera& camera, const std::set<uint32_t>& without,
                                               SurfaceMaps& maps, const Progress& progress = {});

}  // namespace juvenor
