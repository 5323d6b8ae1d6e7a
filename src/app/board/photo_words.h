// What a photo is worth, in a line of plain words.
#pragma once

#include <QString>

#include "core/photo/photo_measures.h"

namespace juvenor::app {

struct PhotoWords {
  QString text;       ///< "1400 × 1400, sharp, evenly lit"
  bool poor = false;  ///< something of it will spoil the skin
};
PhotoWords wordsFor(const PhotoMeasures& measures, int width, int height);

}  // namespace juvenor::app
