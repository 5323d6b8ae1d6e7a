// Small pictures of what each layer of a stack brings to the front of the skin by itself, made in pieces.
#pragma once

#include <map>

#include "core/layers/composite/composite.h"
#include "core/render/picture.h"

namespace juvenor {

class LayerThumbnails {
 public:
  /// `edge` × `edge` pixels of the upper two thirds from the front, so that a face fills a small disc.
  LayerThumbnails(const Rays& rays, int edge);

  /// What is to be shown: only layers whose source changed are made anew.
  void setStack(PreparedStack stack, const EncodedColor& bare);

  struct Thumbnail {
    uint32_t layer = 0;
    std::vector<uint32_t> pixels;  ///< 0xffRRGGBB, over a dark grey
  };
  /// Goes on by a piece of a few milliseconds; gives the finished ones when it came to the end. `more` tells
  /// whether anything is left.
  std::vector<Thumbnail> advance(bool& more);

 private:
  void readChunk(size_t index);

  int edge_;
  std::map<size_t, std::vector<std::pair<uint32_t, uint32_t>>> pixelsOf_;  // chunk → pixel and sample
  PreparedStack stack_;
  EncodedColor bare_;
  std::map<uint32_t, SourcePointer> made_;
  std::map<uint32_t, std::vector<uint32_t>> work_;
  std::map<size_t, std::vector<std::pair<uint32_t, uint32_t>>>::const_iterator next_;
};

}  // namespace juvenor
