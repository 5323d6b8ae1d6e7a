// From the pen over the picture to the skin under it: steadies the hand as if it pulled the brush by a
// string, follows the way between two events in steps finer than the dabs, and finds the surface under each
// by a ray. Where the way leaves the skin or leaps to another piece of it, the stroke lifts and goes on
// there.
#pragma once

#include "core/brush/stroke.h"
#include "core/pen/eye.h"

namespace juvenor {

struct PenPoint {
  Vec2 pixel = Vec2::Zero();
  float pressure = 1;        ///< 0…1
  Vec2 tilt = Vec2::Zero();  ///< degrees
  double seconds = 0;        ///< any clock that does not jump
};

/// Where the end of a string is that was at `end` and is pulled by a pen now at `pen`, all in pixels: it
/// stays while the string is slack.
Vec2 pulled(const Vec2& end, const Vec2& pen, float length);

class PenPath {
 public:
  /// What the eye looks at must outlive the path.
  PenPath(const Eye& eye, const Brush& brush);

  void move(const PenPoint& point, Stroke& stroke);
  /// Lets the path come up to where the pen left off.
  void finish(Stroke& stroke);
  /// Where the pen was when it last met the surface; for readings and recordings.
  const std::optional<SurfacePoint>& last() const { return last_; }

 private:
  void follow(const PenPoint& to, Stroke& stroke);
  void touch(const PenPoint& point, Stroke& stroke);

  Eye eye_;
  Brush brush_;
  bool down_ = false;
  PenPoint raw_, steadied_;
  std::optional<SurfacePoint> last_;
};

}  // namespace juvenor
