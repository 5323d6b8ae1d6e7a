// A stroke in the air: points of the pen's way over the surface come in, dabs are laid at even distances
// along it (whatever the rate of the points), varied, mirrored, and worked into fields by inks. What looks
// random follows from the seed, so that the same stroke makes the same marks again.
#pragma once

#include <array>
#include <set>

#include "core/brush/ink.h"
#include "core/brush/paint.h"
#include "core/brush/stencil.h"
#include "core/brush/tip.h"
#include "core/seeded.h"
#include "core/surface/skin_cut.h"

namespace juvenor {

/// What works on one field of a stroke.
struct InkAtWork {
  std::unique_ptr<Ink> ink;
  std::unique_ptr<WorkingField> field;
};

/// The pen at one moment of its way.
struct StrokePoint {
  SurfacePoint at;
  float pressure = 1;        ///< 0…1
  Vec3 lean = Vec3::Zero();  ///< where the pen leans to, in the scene; none when it stands upright
};

class Stroke {
 public:
  struct Setting {
    Brush brush;
    /// The only part that takes paint unless the brush says all parts; kNone: the one under the pen.
    uint32_t activePart = kNone;
    uint64_t seed = 0;
    std::optional<EncodedColor> color;            ///< the pen's, for brushes that vary it
    std::shared_ptr<const Stencil> stencil = {};  ///< null: paint goes everywhere
    std::shared_ptr<Paint> paint = {};            ///< in place of the pen's values; null: those
    Mirrors mirrors = {};                         ///< those the brush mirrors in
    std::set<uint32_t> hidden = {};               ///< parts that take none, even if the brush says all
    /// Skin on the side its normal points to is cut away before the eye: the pen's own dabs leave it alone,
    /// their mirrors, which nobody looks at, do not.
    std::optional<CutPlane> cutAway = {};
  };
  /// Every dab's footprint is found once for all inks. Surface, inks and flood must outlive the stroke.
  Stroke(const Surface& surface, Setting setting, std::span<const InkAtWork> inks, Flood& flood);

  /// The pen moved over the surface to here. Points may come at any distance; a straight way between is
  /// assumed.
  void moveTo(const StrokePoint& point);
  void moveTo(const SurfacePoint& at, float pressure) { moveTo({at, pressure}); }
  /// The pen stood still for some time: a spray goes on.
  void rest(double seconds);
  /// The pen left the surface or jumped to another; the next point begins anew.
  void lift();
  /// The pen is done: what waited for a direction is laid without.
  void end() { lift(); }
  /// One dab as it is told, and its mirrors: `along` is where the tip's right side goes, `radius` in scene
  /// units.
  void place(const SurfacePoint& at, const Vec3& along, float radius);

  bool flows() const { return tip_->flows(); }
  size_t dabCount() const { return dabs_; }
  /// Samples all dabs have reached so far, counted anew for every dab: 0 tells that the brush is finer than
  /// the spacing.
  size_t reached() const { return reached_; }

 private:
  void dab(const StrokePoint& point, const Vec3& way, float share);
  void lay(const Dab& main);
  /// Which side of each mirror a dab may reach; 0: both.
  using Sides = std::array<int, 3>;
  void dabOnce(const Dab& dab, const Sides& sides);
  bool takesPart(const Dab& dab) const;
  void keepReached(const Dab& dab, const Sides& sides);
  Vec3 alongOf(const StrokePoint& point, const Vec3& way) const;
  Dab varied(const Dab& dab, size_t side) const;
  Dab loosened(const Dab& dab, size_t side) const;
  void reseat(Dab& dab, const Vec3& offset) const;

  const Surface& surface_;
  Setting setting_;
  std::span<const InkAtWork> inks_;
  Flood& flood_;
  std::unique_ptr<Tip> tip_;
  std::optional<StrokePoint> last_;
  bool waits_ = false;  ///< the dab at `last_` waits for the pen to move
  float toNext_ = 0;    ///< way left until the next dab
  float way_ = 0;       ///< of the whole stroke so far
  Footprint footprint_;
  size_t dabs_ = 0, reached_ = 0;
};

}  // namespace juvenor
