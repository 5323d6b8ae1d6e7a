// Cameras that are kept by name with their lens, light, view and backdrop: to go back to, to show from, and
// to fly between.
#pragma once

#include "core/view/look.h"

namespace juvenor {

struct KeptCamera {
  uint32_t id = 0;
  std::string name;
  Look look;  ///< its stage is empty, and its light has no panorama: environmentFor reads that
              ///< (render/light.h)

  bool operator==(const KeptCamera&) const = default;
};

}  // namespace juvenor
