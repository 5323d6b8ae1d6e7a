// Paint through a slide: every sample takes what the slide shows where the pen goes. A mirrored dab looks at
// the slide from the side the pen is on.
#pragma once

#include <array>
#include <map>

#include "core/brush/paint.h"
#include "core/layers/sources/light_over.h"
#include "core/photo/photo_part.h"
#include "core/surface/field.h"

namespace juvenor {

/// What strokes are told of the slide they go through.
struct SlidePaint {
  Slide slide;
  PhotoSplit split;
  float feather = 0.02f;  ///< of the longer side: over which it dies out toward the edges
  ColorField skin = {};   ///< the skin as it looks, opaque: what detail is laid over
};

/// Remembers what it looked up for as long as it lives, so that dabs over each other cost little.
class PaintThroughSlide final : public Paint {
 public:
  /// `light`: of the slide's photo on the form; null: none is divided out. `finely`: brings heights and gloss
  /// too.
  PaintThroughSlide(SlidePaint setting, LightOverPointer light, bool finely)
      : setting_(std::move(setting)), light_(std::move(light)), view_(setting_.slide) {
    setting_.split.detail = finely;
  }
  void bring(const Surface& surface, const Dab& dab, Footprint& footprint) override;

 private:
  struct Brought {
    EncodedColor color;
    float cover = -1;  ///< below 0: not looked up yet
    float detail = 0;
  };
  ColorFactors lightAt(const Surface& surface, uint32_t sample, const SlideView::Spot& spot) const;
  Brought lookedUp(const Surface& surface, uint32_t sample, const Dab& dab) const;

  SlidePaint setting_;
  LightOverPointer light_;
  SlideView view_;
  /// By side and chunk.
  std::map<std::pair<size_t, size_t>, std::vector<Brought>> known_;
};

}  // namespace juvenor
