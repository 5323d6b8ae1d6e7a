// Which fibres stand before the skin in a picture.
#pragma once

#include "core/hair/fibre_rays.h"
#include "core/render/picture.h"

namespace juvenor {

/// Casts one more ray a pixel through `jitter` (as castVisibility did) and notes the first fibre that lies
/// before what the image shows. Stops early, with false, when `stop` says so.
bool castHair(const FibreRays& hair, const Surface& surface, const Camera& camera, const Vec2& jitter,
              const PixelRect& rect, VisibilityImage& image, const std::function<bool()>& stop = {});
/// The same by the rays castVisibility was given, over all of the image but what is `done`.
bool castHair(const FibreRays& hair, const Surface& surface, const PixelRays& rayOf,
              std::span<const uint8_t> done, VisibilityImage& image, const std::function<bool()>& stop = {});

}  // namespace juvenor
