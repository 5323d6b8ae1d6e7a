// What fine skin looks like once it is known where its lines, corners and creases are: relief, gloss and a
// breath of colour. Where points are too few for it there is its mean gloss and nothing else.
#pragma once

#include "core/growth/cell_places.h"
#include "core/growth/stripe_field.h"
#include "core/layers/sources/patterns.h"

namespace juvenor {

/// One sample of grown fine skin.
struct FinePlace {
  uint8_t edge = 255;    ///< how far the next line is, 255 half a width
  uint8_t corner = 255;  ///< the next corner, in the same measure
  uint8_t cornerKey = 0;
  uint8_t crease = 255;                     ///< how far the next crease is, 255 half way to the one after
  uint8_t creaseKey = 0;                    ///< even chance along creases: where they fade
  uint8_t across = 0;                       ///< of the line: 255 it runs across the pull, 0 along it
  uint8_t shown = 0;                        ///< 255 points are dense enough … 0 they are too few
  uint8_t soft = 0;                         ///< of half a width: how narrow points can show a line
  std::array<uint8_t, 3> like{64, 64, 64};  ///< lines, pores, creases of the region; 64 is skin at large
};

class FineLook {
 public:
  FineLook(const FineSkin& skin, float reliefStep);

  /// For the places of a chunk, and what the mask shows there (null: all).
  ColorField::Pointer colors(std::span<const FinePlace> places, const ScalarChunk* mask) const;
  CoverField::Pointer gloss(std::span<const FinePlace> places, const ScalarChunk* mask) const;
  ScalarField::Pointer heights(std::span<const FinePlace> places, const ScalarChunk* mask) const;

  /// How much there is of each, 0…1.
  struct Marks {
    float line, pore, crease, top;
  };
  Marks marks(const FinePlace& place, float mask) const;

 private:
  float glossAt(const Marks& marks) const;

  FineSkin skin_;
  float reliefStep_;
  float meanHidden_;  ///< on average over skin at large: how much of it is line, pore or crease
};

}  // namespace juvenor
