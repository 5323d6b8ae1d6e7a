// A stroke in the air: points of the pen's way over the surface come in, dabs are laid at even distances
// along it (whatever the rate of the points), mirrored, and worked into fields by inks.
#pragma once

#include "core/brush/ink.h"

namespace juvenor {

/// What works on one field of a stroke.
struct InkAtWork {
  std::unique_ptr<Ink> ink;
  std::unique_ptr<WorkingField> field;
};

class Stroke {
 public:
  /// `activePart` is the only part that takes paint unless the brush says all parts; kNone: the one under the
  /// pen. Every dab's footprint is found once for all inks. Surface, inks and flood must outlive the stroke.
  Stroke(const Surface& surface, const Brush& brush, uint32_t activePart, std::span<const InkAtWork> inks,
         Flood& flood);

  /// The pen moved over the surface to here. Points may come at any distance; a straight way between is
  /// assumed.
  void moveTo(const SurfacePoint& point, float pressure);
  /// The pen left the surface or jumped to another; the next point begins anew.
  void lift() { last_.reset(); }

  size_t dabCount() const { return dabs_; }
  /// Samples all dabs have reached so far, counted anew for every dab: 0 tells that the brush is finer than
  /// the spacing.
  size_t reached() const { return reached_; }

 private:
  void dab(const SurfacePoint& point, float pressure);
  void dabOnce(const Dab& dab);

  const Surface& surface_;
  Brush brush_;
  uint32_t activePart_;
  std::span<const InkAtWork> inks_;
  Flood& flood_;
  struct Trace {
    SurfacePoint point;
    float pressure;
  };
  std::optional<Trace> last_;
  float toNext_ = 0;  ///< way left until the next dab
  Footprint footprint_;
  size_t dabs_ = 0, reached_ = 0;
};

}  // namespace juvenor
