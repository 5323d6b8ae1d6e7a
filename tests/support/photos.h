// Pictures made up for tests of photos.
#pragma once

#include <functional>

#include "core/photo/picture_data.h"
#include "core/photo/slide.h"

namespace juvenor::test {

/// Sixteen bits a channel; `at` gives linear light at a pixel's centre, parts of width and height from the
/// left and the top.
inline PicturePointer photo(int width, int height, const std::function<LinearColor(float, float)>& at) {
  auto out = std::make_shared<PictureData>();
  out->width = width;
  out->height = height;
  static uint64_t next = 1;
  out->fingerprint = next++;
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const LinearColor c = at((static_cast<float>(x) + 0.5f) / static_cast<float>(width),
                               (static_cast<float>(y) + 0.5f) / static_cast<float>(height));
      const Straight16 p{to16(encodeSrgb(c.r)), to16(encodeSrgb(c.g)), to16(encodeSrgb(c.b)), 65535};
      out->deep.push_back(p);
      const auto byte = [](uint16_t v) { return static_cast<uint32_t>((v + 128) / 257); };
      out->pixels.push_back(0xff000000u | byte(p.r) << 16 | byte(p.g) << 8 | byte(p.b));
    }
  return out;
}

/// Looks at the origin from a direction.
inline Camera cameraFrom(const Vec3& direction, float distance, float fieldOfView = 28) {
  Camera out;
  out.turn = turnBetween<float>(Vec3::UnitZ(), direction.normalized());
  out.distance = distance;
  out.fieldOfView = fieldOfView;
  return out;
}

/// A slide over the whole height of a view.
inline Slide slideOver(const PicturePointer& picture, const Camera& camera) {
  Slide out;
  out.id = 1;
  out.name = "photo";
  out.picture = picture;
  out.fingerprint = picture->fingerprint;
  out.camera = camera;
  out.half =
      static_cast<float>(std::max(picture->width, picture->height)) / static_cast<float>(picture->height);
  return out;
}

}  // namespace juvenor::test
