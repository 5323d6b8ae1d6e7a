// What layers tie to places of the skin, where the skin has gone: anchors, strokes, touches, pins, the eyes
// that slides are thrown from. When the sculpt turns, and when all work is carried over to another.
#pragma once

#include <functional>

#include "core/layers/guides.h"
#include "core/layers/source.h"
#include "core/photo/slide.h"
#include "core/surface/mirror/mirrors.h"

namespace juvenor {

struct Eyes;

/// Where a place went, and the part it lies on there.
struct MovedPlace {
  Vec3 place;
  uint32_t part = kNone;
};

struct MovedSkin {
  /// Where a place of the skin went; `part` is the one it was tied to, kNone: to none.
  std::function<MovedPlace(const Vec3& place, uint32_t part)> place;
  /// What stands for the old part; several when it was cut up.
  std::function<std::vector<uint32_t>(uint32_t part)> parts;
  /// How all of it moved at large: a place goes to scale · turn · place + shift.
  Eigen::Matrix3f turn = Eigen::Matrix3f::Identity();
  float scale = 1;
  Vec3 shift = Vec3::Zero();
};

/// Of a sculpt that was turned about the origin.
MovedSkin turnedSkin(const Eigen::Matrix3f& turn);

// Lengths (widths, reaches) stay: scaled_source.h.
MirrorPlane moved(const MirrorPlane& plane, const MovedSkin& skin);
HueZone moved(HueZone zone, const MovedSkin& skin);
Guides moved(Guides guides, const MovedSkin& skin);
Slide moved(Slide slide, const MovedSkin& skin);
Eyes moved(Eyes eyes, const MovedSkin& skin);
/// The source with what it ties to places there again; null when it ties nothing.
SourcePointer movedSource(const LayerSource& source, const MovedSkin& skin);

}  // namespace juvenor
