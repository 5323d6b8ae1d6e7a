// The pictures of the board: reference the artist gathers, kept in the document as the files they were.
#pragma once

#include "core/photo/picture_data.h"

namespace juvenor {

struct BoardPicture {
  uint32_t id = 0;
  std::string name;
  uint64_t fingerprint = 0;  ///< of its data, by which a file finds it
  PicturePointer data;
  /// The middle of what is shown, in parts of width and height, and how many times nearer than the whole.
  float centerX = 0.5f, centerY = 0.5f, nearer = 1;

  bool operator==(const BoardPicture&) const = default;
};

}  // namespace juvenor
