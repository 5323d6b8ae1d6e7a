// A slide: a picture between eye and sculpt, as a slide projector would throw it from where the viewer stood.
// Where it lies in that view, which places of it are pinned to which of the skin, and what is done to its
// light and tones. Everything about it is a value; slide_view.h looks up what it shows on a form.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/photo/picture_data.h"
#include "core/photo/slide_tone.h"
#include "core/view/camera.h"

namespace juvenor {

/// Places on a picture: x to the right and y up from its middle, its longer side going from −1 to 1. Places
/// in a view: x to the right and y up from its middle, its height going from −1 to 1.
struct SlidePin {
  Vec2 onPicture = Vec2::Zero();
  Vec3 onSkin = Vec3::Zero();
  bool operator==(const SlidePin&) const = default;
};

struct Slide {
  uint32_t id = 0;
  std::string name;
  uint64_t fingerprint = 0;  ///< of its picture, by which a file finds it
  PicturePointer picture;
  Camera camera;               ///< where it is thrown from
  Vec2 middle = Vec2::Zero();  ///< of the picture, in the view
  float half = 0.8f;           ///< of its longer side, in the view
  float turn = 0;              ///< degrees to the left
  bool mirrored = false;       ///< right and left of the picture
  std::vector<SlidePin> pins;
  SlideTone tone;

  bool operator==(const Slide&) const = default;
};

/// The most pins of a slide: a face takes ten, and the cost of looking it up grows with them.
inline constexpr size_t kMostPins = 64;

/// A slide without its picture's pixels.
nlohmann::json toJson(const Slide& slide);
/// Every value is checked. The picture is left unset.
Result<Slide> slideFromJson(const nlohmann::json& json);

}  // namespace juvenor
