// Straight segments, press by press: each goes from where the last stroke ended to where the pen is, in the
// view, over the skin. While the brush is mirrored an end near the mirror's plane lies on it, and a segment
// between two such ends keeps to it all the way, whatever the view.
#pragma once

#include <QPainter>
#include <memory>
#include <optional>
#include <vector>

#include "app/engine/viewing.h"
#include "core/brush/brush.h"
#include "core/pen/pen_path.h"

namespace juvenor::app {

class StraightLine {
 public:
  /// The next segment begins at this place of the skin.
  void startAt(const std::shared_ptr<const Surface>& surface, const Vec3& place) {
    surface_ = surface;
    from_ = place;
  }
  void forget() { surface_.reset(); }
  bool begins(const std::shared_ptr<const Surface>& surface) const {
    return surface && surface_.lock() == surface;
  }

  /// Where the pen counts as being, and the axis of the mirror it lies on the middle of, if any.
  struct End {
    Vec2 pixel = Vec2::Zero();
    std::optional<int> axis;
  };
  /// `place`: the skin under the pen, where there is any.
  static End endAt(const Viewing& viewing, const Brush& brush, const Mirrors& mirrors, const Vec2& pixel,
                   const std::optional<Vec3>& place);

  /// What a pen would tell that went all the way, at this pressure; empty where there is no beginning.
  std::vector<PenPoint> way(const Viewing& viewing, const Rays& rays, const std::set<uint32_t>& hidden,
                            const Brush& brush, const Mirrors& mirrors, const End& to, float pressure) const;
  /// The way as it would be laid; `scale`: pixels of the picture to one of the screen.
  void draw(QPainter& painter, const Viewing& viewing, const End& to, double scale) const;

 private:
  std::weak_ptr<const Surface> surface_;  ///< known again, not kept
  Vec3 from_ = Vec3::Zero();
};

}  // namespace juvenor::app
