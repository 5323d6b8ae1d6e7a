// Whether a sculpt can carry paint, in numbers: asked before the first tone is laid, for whoever finds out
// after a week that pores do not fit between the points begins again.
#pragma once

#include <array>
#include <string_view>

#include "core/carry/twin.h"
#include "core/document/document.h"
#include "core/textures/uv_layout.h"

namespace juvenor {

/// Something one may want to paint, and about how large it is on a figure of a person's size, millimetres
/// (common practice, from memory).
struct FineThing {
  std::string_view label;
  float millimetres;
};
/// From the finest to the broadest.
inline constexpr std::array kFineThings{FineThing{"Fine skin", 0.1f}, FineThing{"Pores", 0.2f},
                                        FineThing{"Wrinkles", 0.5f},  FineThing{"Freckles", 2.f},
                                        FineThing{"Scales", 5.f},     FineThing{"Spots and bands", 15.f},
                                        FineThing{"Hue zones", 60.f}};

/// How far apart points may lie for a thing so large: two of them across it (Shannon 1949).
constexpr float spacingFor(float thing) {
  return thing / 2;
}

/// What so many points carry, whatever their distance (common practice: a thousand nothing, sixty thousand
/// coarse paint, a quarter million still coarse on a simple plane); bounds are half way between, as numbers
/// multiply.
enum class Carries { Nothing, Coarse, Broad, Fine };
constexpr Carries carriedBy(size_t points) {
  return points < 8'000     ? Carries::Nothing
         : points < 120'000 ? Carries::Coarse
         : points < 350'000 ? Carries::Broad
                            : Carries::Fine;
}

struct Readiness {
  float tall = 0;           ///< millimetres, as it stands
  bool likelySize = false;  ///< that of a figure, a head or a maquette: 2 cm to 20 m
  size_t points = 0;
  float spacing = 0;  ///< millimetres between points: the mean length of an edge
  Carries carries = Carries::Fine;
  size_t parts = 0, shells = 0;  ///< shells: pieces that share no place with another one of their part
  std::shared_ptr<const UvLayout> layout;  ///< of the UV set asked about; null: the sculpt has none
  /// Part of the layout's covered area that something else covers too, 0…1.
  float doubled = 0;
  FoundPlane plane;          ///< the best one near x = 0
  bool mirrors = false;      ///< enough of the figure finds its mirror image in that plane
  bool planeIsOurs = false;  ///< the document's own plane is that one

  bool fineEnough(float thing) const { return spacing <= spacingFor(thing); }
  /// Points it would have once they lie close enough for a thing so large (millimetres), everywhere.
  double pointsFor(float thing) const;
  bool laidOut() const { return layout && layout->missing == 0 && layout->outside == 0 && doubled < 0.01f; }
  bool inParts() const { return shells <= parts; }
  bool mirrorReady() const { return planeIsOurs || !mirrors; }
};

/// Takes about as long as opening the sculpt; `uvSet`: of the document's sculpt. The only error is a cancel.
Result<Readiness> readinessOf(const Document& document, size_t uvSet = 0, const Progress& progress = {});

}  // namespace juvenor
