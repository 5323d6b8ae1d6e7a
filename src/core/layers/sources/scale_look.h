// What scales look like once it is known where every sample lies in them: colour, gloss and height from the
// place in the scale. Where the layer's mask fades scales shrink toward their middles and flatten.
#pragma once

#include "core/growth/cell_places.h"
#include "core/layers/cell_touch.h"
#include "core/layers/sources/patterns.h"

namespace juvenor {

class ScaleLook {
 public:
  struct Cells {
    std::span<const SkinCell> all;
    std::span<const TouchedCell> touched;  ///< by hand
  };
  /// `spacing` of the points, `reliefStep` of the surface.
  ScaleLook(const Scales& scales, const Cells& cells, float spacing, float reliefStep);

  /// For the places of a chunk, and what the mask shows there (null: all).
  ColorField::Pointer colors(std::span<const CellPlaces::Place> places, const ScalarChunk* mask) const;
  CoverField::Pointer gloss(std::span<const CellPlaces::Place> places, const ScalarChunk* mask) const;
  ScalarField::Pointer heights(std::span<const CellPlaces::Place> places, const ScalarChunk* mask) const;
  /// The cells that were touched otherwise than in one that is else the same.
  std::vector<uint32_t> touchedUnlike(const ScaleLook& other) const;

 private:
  // Of one scale.
  struct Traits {
    uint16_t shade;            // which of the tables of colours
    uint16_t own;              // where it stands in the ramp of its own number
    float soft;                // how far the least edge that points can show reaches
    float lift;                // of its height
    float cover;               // less where it is rubbed
    float dull;                // of its gloss
    uint32_t touched = kNone;  // its number among the touched ones
  };
  // A place in plain numbers.
  struct At {
    float edge, along, across;
    float shows;   // 0 in the groove … 1 on the scale
    float groove;  // how much there is of a groove
    float mask;
  };
  At at(const CellPlaces::Place& place, const Traits& traits, float mask) const;
  size_t rampPlace(const At& at, const Traits& traits) const;
  float profile(const At& at, const Traits& traits) const;
  template <class Each>
  void eachPlace(std::span<const CellPlaces::Place> places, const ScalarChunk* mask, Each each) const;

  Scales scales_;
  float reliefStep_;
  std::vector<Traits> traits_;
  std::vector<TouchedCell> touched_;
  std::vector<std::array<float, 4>> shades_;  // tables of premultiplied colours, one after another
};

}  // namespace juvenor
