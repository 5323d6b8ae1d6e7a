// A patch of skin taken off and laid flat: its colours, its gloss, and its relief, as a picture with a size
// in millimetres, so that it can be laid on any other skin.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/brush/stamp.h"
#include "core/layers/channels.h"

namespace juvenor {

inline constexpr int kLeastGraft = 128, kLargestGraft = 2048;

struct Graft {
  std::string name;
  int width = 0, height = 0;                ///< pixels
  float across = 0;                         ///< millimetres of skin along its longer side
  std::vector<float> alpha;                 ///< 0…1, row by row from the top
  std::array<std::vector<float>, 3> color;  ///< linear, straight; empty: it brings none
  std::vector<float> gloss;                 ///< 0…1; empty: none
  std::vector<float> relief;                ///< millimetres over what was broader; empty: none

  size_t pixels() const { return static_cast<size_t>(width) * static_cast<size_t>(height); }
  ChannelSet channels() const;
};

/// A graft for the tip of a brush, and what the pen is to lay with it.
struct GraftStamp {
  StampPointer stamp;
  ChannelSet channels;
  float height = 0;  ///< millimetres: the pen's height at which relief comes out as it was taken
};
GraftStamp stampOf(const Graft& graft);

}  // namespace juvenor
