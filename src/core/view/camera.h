// Where the viewer stands: turning around a target, in perspective or parallel.
#pragma once

#include <algorithm>
#include <limits>
#include <optional>

#include "core/surface/ray.h"
#include "core/surface/skin_cut.h"

namespace juvenor {

struct Camera {
  Vec3 target = Vec3::Zero();
  float distance = 4;                                        ///< from the target, scene units
  Eigen::Quaternionf turn = Eigen::Quaternionf::Identity();  ///< of the viewer; identity looks down −z, y up
  float fieldOfView = 28;                                    ///< degrees, over the height of the picture
  bool parallel = false;
  /// What stands out more than this from the target's plane toward the viewer is cut away, scene units: rays
  /// begin there, and go out of flesh that is cut open.
  float cutAway = std::numeric_limits<float>::infinity();

  bool cuts() const { return cutAway < std::numeric_limits<float>::infinity(); }
  Vec3 right() const { return turn * Vec3::UnitX(); }
  Vec3 up() const { return turn * Vec3::UnitY(); }
  Vec3 back() const { return turn * Vec3::UnitZ(); }  ///< from the target toward the viewer
  Vec3 eye() const { return target + distance * back(); }

  bool operator==(const Camera& o) const {
    return target == o.target && distance == o.distance && turn.coeffs() == o.turn.coeffs() &&
           fieldOfView == o.fieldOfView && parallel == o.parallel && cutAway == o.cutAway;
  }
};

/// The same with nothing cut away: for what is kept, and what throws.
inline Camera uncut(Camera camera) {
  camera.cutAway = std::numeric_limits<float>::infinity();
  return camera;
}

/// The plane before which all is cut away, with its normal toward the viewer; none where nothing is.
std::optional<CutPlane> cutAwayBy(const Camera& camera);

/// From a box's foremost place to its hindmost, as one looks at it: scene units from the target's plane, more
/// toward the viewer.
struct DepthRange {
  float front = 0, back = 0;
};
DepthRange depthRange(const Camera& camera, const Box& box);

/// The viewer's right, up and back as columns.
inline Eigen::Matrix3f viewAxes(const Camera& camera) {
  return camera.turn.toRotationMatrix();
}

/// The size of a picture in pixels.
struct ViewSize {
  int width = 1, height = 1;
  bool operator==(const ViewSize&) const = default;
};

/// A camera before pictures of one size, its axes worked out once: for who asks pixel by pixel.
class Lens {
 public:
  explicit Lens(const Camera& camera, const ViewSize& size = {});

  // as the functions below
  Ray rayThrough(const Vec2& pixel) const {
    const float x = (pixel.x() - middle_.x()) * unit_, y = (middle_.y() - pixel.y()) * unit_;
    if (!parallel_) return fromCut({eye_, (x * right_ + y * up_ - back_).normalized()});
    // far enough back that nothing of the sculpt lies behind the viewer
    return fromCut({target_ + distance_ * (x * right_ + y * up_ + 20 * back_), -back_});
  }
  Vec3 project(const Vec3& point) const {
    const Vec3 d = point - eye_;
    const float depth = -d.dot(back_);
    const float scale = 1 / (unit_ * (parallel_ ? distance_ : std::max(depth, 1e-20f)));
    return {middle_.x() + d.dot(right_) * scale, middle_.y() - d.dot(up_) * scale, depth};
  }
  float depthOf(const Vec3& point) const { return (eye_ - point).dot(back_); }
  float pixelsPerUnit(const Vec3& point) const;
  Vec3 toViewer(const Vec3& point) const;

 private:
  Ray fromCut(Ray ray) const {
    if (!(cutAway_ < std::numeric_limits<float>::infinity())) return ray;
    const float before = (ray.origin - target_).dot(back_) - cutAway_;
    if (before > 0) ray.origin -= before / ray.direction.dot(back_) * ray.direction;
    ray.frontsOnly = true;
    return ray;
  }

  bool parallel_;
  float distance_, cutAway_;
  float unit_;  ///< of a pixel, at distance one
  Vec2 middle_;
  Vec3 target_, right_, up_, back_, eye_;
};

/// The ray through a pixel position (x right, y down; a pixel's centre is at its index plus a half).
Ray rayThrough(const Camera& camera, const ViewSize& size, const Vec2& pixel);

/// Pixel position and depth (distance along the view direction) of a point; depth ≤ 0 lies behind the viewer.
Vec3 project(const Camera& camera, const ViewSize& size, const Vec3& point);

/// The same as a matrix over (point, 1): a and b over c are the pixel, c is above 0 before the viewer.
Eigen::Matrix<float, 3, 4> projection(const Camera& camera, const ViewSize& size);

/// How many pixels one scene unit covers at a point.
float pixelsPerUnit(const Camera& camera, const ViewSize& size, const Vec3& point);

/// Unit direction from a point to the viewer.
Vec3 toViewer(const Camera& camera, const Vec3& point);

/// The camera moved so that the points fill most of the picture; the direction stays, and what is cut away.
Camera framed(const Camera& camera, const ViewSize& size, std::span<const Vec3> points);
/// The same for the corners of a box.
Camera framed(const Camera& camera, const ViewSize& size, const Box& box);

/// Looking from +z (front), +x (right side) or +y (top).
enum class Side { Front, Right, Left, Back, Top };
Camera lookingFrom(const Camera& camera, Side side);

/// What a drag of one pixel turns.
inline constexpr float kDegreesPerPixel = 0.45f;
/// Turned by a drag of so many pixels: across turns around the upright axis, down tilts.
Camera turned(const Camera& camera, const Vec2& drag);
/// Moved so that the target follows a drag.
Camera panned(const Camera& camera, const ViewSize& size, const Vec2& drag);
/// Nearer (factor < 1) or farther; the point under `pixel` at the target's depth stays where it is.
Camera zoomed(const Camera& camera, const ViewSize& size, float factor, const Vec2& pixel);

}  // namespace juvenor
