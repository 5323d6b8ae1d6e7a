// From one to its twin: what was painted on a part (an eye, a glove) onto another of the same shape, mirrored
// or not; and what was painted on one side of the figure onto the other.
#pragma once

#include "core/carry/fit_rigid.h"
#include "core/document/document.h"
#include "core/surface/mirror/mirrors.h"

namespace juvenor {

struct TwinFit {
  Similarity motion;      ///< from the twin to the part that is copied
  bool mirrored = false;  ///< the twin is a mirror image
  float rest = 0;         ///< scene units: the mean distance that is left
  float found = 0;        ///< 0…1: how much of the twin lies on the part
};

/// How a part lies to its twin; `mirrored` unset: whichever fits, and where both do the mirror image. The
/// error says how far they are from the same shape.
Result<TwinFit> twinFit(const Document& document, uint32_t part, uint32_t twin,
                        std::optional<bool> mirrored = {}, const Progress& progress = {});

/// What is copied, and through what.
struct CopySetting {
  std::vector<uint32_t> layers;        ///< ids; empty: all that are not locked
  bool paint = true, masks = true;     ///< what of them
  std::optional<ScalarField> through;  ///< as a mask, on the side that is painted; unset: all of it
  /// Scene units by which it is taken from beside its place, here more and there less, so that no side is the
  /// other's image; another seed takes another way.
  float vary = 0;
  uint32_t seed = 1;
};

struct Copied {
  Document document;
  size_t samples = 0;  ///< that were painted
  size_t missed = 0;   ///< of the twin, or the other side, that nothing was found for
};

/// Paint, masks and what was done to patterns by hand of a part onto its twin.
Result<Copied> copiedToTwin(const Document& document, uint32_t part, uint32_t twin, const TwinFit& fit,
                            const CopySetting& setting = {}, const Progress& progress = {});

/// The plane a figure is symmetric about, sought near x = 0: of its form, not of its coordinates; with how
/// much of it finds its mirror image (0…1) and the middle distance between the two (scene units).
struct FoundPlane {
  MirrorPlane plane;
  float found = 0, rest = 0;
};
Result<FoundPlane> mirrorPlaneOf(const Document& document, const Progress& progress = {});

/// What lies on the side the plane's normal points to (`fromPositive`), or on the other, mirrored onto the
/// other side.
Result<Copied> copiedToOtherSide(const Document& document, const MirrorPlane& plane, bool fromPositive,
                                 const CopySetting& setting = {}, const Progress& progress = {});

}  // namespace juvenor
