// A slide as it hangs before the eye: its picture in a view, placed, warped by its pins, evened and matched
// as it will be laid.
#pragma once

#include <vector>

#include "core/layers/sources/light_over.h"
#include "core/photo/slide_view.h"
#include "core/surface/rays/rays.h"

namespace juvenor {

struct SlidePicture {
  int left = 0, top = 0;         ///< of what is drawn, in pixels of the view
  ViewSize size{0, 0};           ///< of what is drawn; nothing where the slide lies beside the view
  std::vector<uint32_t> pixels;  ///< 0xAARRGGBB, sRGB-encoded, premultiplied, row by row from the top
};

/// The sculpt behind a slide, and the light of its photo there; null: none is divided out.
struct FormBehind {
  RaysPointer rays;
  LightOverPointer light;
};

/// In a view of the slide's own camera. `strength` 0…1: how opaque it is. Light fitted on the form is divided
/// out where the form is seen, told at every eighth pixel; beside it the picture is as it was taken.
SlidePicture drawnSlide(const SlideView& view, const ViewSize& size, float strength,
                        const FormBehind& behind = {});

/// Where a place on the slide's picture lies in a view of its camera, in pixels; as near as the warp can be
/// turned round. And the other way.
Vec2 pixelOfPicture(const PinWarp& warp, const ViewSize& size, const Vec2& onPicture);
Vec2 pictureOfPixel(const PinWarp& warp, const ViewSize& size, const Vec2& pixel);

}  // namespace juvenor
