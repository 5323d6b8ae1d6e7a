#include "core/photo/slide_view.h"

#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

// What a highlight is measured against: a mean over this part of the longer side.
constexpr float kShineAround = 0.05f;
constexpr float kMostStretch = 8;  // of tones that are matched

Affine2 unpinned(const Slide& slide) {
  const float turn = slide.turn * std::numbers::pi_v<float> / 180;
  Affine2 out;
  out.linear = Eigen::Rotation2Df(-turn).toRotationMatrix() / slide.half;
  if (slide.mirrored) out.linear.row(0) = -out.linear.row(0);
  out.offset = -(out.linear * slide.middle);
  return out;
}

}  // namespace

Eigen::Matrix<float, 3, 4> toView(const Camera& camera) {
  // of a picture two pixels high: from its upper left corner, y down
  Eigen::Matrix<float, 3, 4> out = projection(camera, {2, 2});
  out.row(0) -= out.row(2);
  out.row(1) = out.row(2) - out.row(1);
  return out;
}

PinWarp warpOf(const Slide& slide) {
  const Eigen::Matrix<float, 3, 4> seen = toView(slide.camera);
  std::vector<PinnedPair> pairs;
  for (const SlidePin& pin : slide.pins) {
    const Vec3 at = seen.leftCols<3>() * pin.onSkin + seen.col(3);
    if (at.z() > 0) pairs.push_back({at.head<2>() / at.z(), pin.onPicture});
  }
  return {pairs, unpinned(slide)};
}

Oklab matched(const Oklab& color, const ToneSpread& from, const ToneSpread& to) {
  const std::array<float, 3> in{color.l, color.a, color.b};
  std::array<float, 3> out;
  for (size_t i = 0; i < 3; ++i) {
    const float wider =
        from.deviation[i] > 0 ? std::min(to.deviation[i] / from.deviation[i], kMostStretch) : 1;
    out[i] = (in[i] - from.mean[i]) * wider + to.mean[i];
  }
  return {out[0], out[1], out[2]};
}

SlideView::SlideView(const Slide& slide)
    : slide_(slide),
      pyramid_(pyramidOf(slide.picture)),
      warp_(warpOf(slide)),
      toView_(toView(slide.camera)),
      lens_(slide.camera),
      longest_(0.5f * static_cast<float>(std::max(slide.picture->width, slide.picture->height))) {
  if (slide.tone.even > 0 && !slide.tone.light) broad_ = broadLight(*pyramid_, slide.tone.broad);
}

std::optional<SlideView::Landing> SlideView::landing(const Spot& spot, float width) const {
  const Vec3 seen = toView_.leftCols<3>() * spot.place + toView_.col(3);
  if (!(seen.z() > 0)) return std::nullopt;
  const Vec2 view = seen.head<2>() / seen.z();
  const Vec2 at = warp_(view);
  const float half = 0.5f * static_cast<float>(pyramid_->width()),
              high = 0.5f * static_cast<float>(pyramid_->height());
  Landing out;
  out.pixel = {half + longest_ * at.x(), high - longest_ * at.y()};
  out.inside = std::abs(at.x()) * longest_ <= half && std::abs(at.y()) * longest_ <= high;
  Eigen::Matrix<float, 2, 3> bySpot;
  for (int i = 0; i < 2; ++i)
    bySpot.row(i) = (toView_.row(i).head<3>() - view[i] * toView_.row(2).head<3>()) / seen.z();
  Eigen::Matrix<float, 3, 2> tangents;
  const Vec3 axis = spot.normal.unitOrthogonal();
  tangents << axis, spot.normal.cross(axis);
  const float radius = width * std::sqrt(spot.area * std::numbers::inv_pi_v<float>);
  Eigen::Matrix2f toPixels = longest_ * warp_.slope(view);
  toPixels.row(1) = -toPixels.row(1);
  out.spread = toPixels * (bySpot * tangents * radius);
  return out;
}

float SlideView::fineness(const Landing& landing) const {
  // the shorter half axis of the ellipse, by the product of both and the sum of their squares
  const float both = std::abs(landing.spread.determinant()), squares = landing.spread.squaredNorm();
  const float longer =
      std::sqrt(0.5f * (squares + std::sqrt(std::max(0.f, squares * squares - 4 * both * both))));
  // a square as large as a disc is √π of its radius across
  return longer > 0 ? std::sqrt(std::numbers::pi_v<float>) * both / longer : 0;
}

float SlideView::inset(const Landing& landing, float feather) const {
  const Vec2 size(static_cast<float>(pyramid_->width()), static_cast<float>(pyramid_->height()));
  const Vec2 near = landing.pixel.cwiseMin(size - landing.pixel);
  if (near.minCoeff() <= 0) return 0;
  const float over = 2 * feather * longest_;
  if (near.minCoeff() >= over) return 1;
  const float t = near.minCoeff() / over;
  return t * t * (3 - 2 * t);
}

float SlideView::facing(const Spot& spot) const {
  return spot.normal.dot(lens_.toViewer(spot.place));
}

PictureValue SlideView::shown(const Landing& landing, const ColorFactors& light) const {
  PictureValue out = pyramid_->at(landing.pixel, landing.spread);
  if (out.alpha > 0) out.color = toned(out.color, landing, light);
  return out;
}

LinearColor SlideView::toned(LinearColor c, const Landing& landing, ColorFactors light) const {
  const SlideTone& tone = slide_.tone;
  if (tone.highlights > 0) {
    const PictureValue around = pyramid_->at(landing.pixel, 2 * kShineAround * longest_);
    const float here = brightness(c), mean = brightness(around.color);
    if (here > mean && mean > 0) {
      // what shines has the lamp's colour: it goes by giving way to what is around
      const float by = tone.highlights * (1 - mean / here);
      c = {c.r + by * (around.color.r - c.r), c.g + by * (around.color.g - c.g),
           c.b + by * (around.color.b - c.b)};
    }
  }
  if (broad_) light.fill(broad_->at(landing.pixel));
  return lit(c, light);
}

PictureValue SlideView::hanging(const Vec2& onPicture, float width, ColorFactors light) const {
  const Vec2 pixel(0.5f * static_cast<float>(pyramid_->width()) + longest_ * onPicture.x(),
                   0.5f * static_cast<float>(pyramid_->height()) - longest_ * onPicture.y());
  PictureValue out = pyramid_->near(pixel, width * longest_);
  if (!(out.alpha > 0)) return out;
  if (broad_) light.fill(broad_->at(pixel));
  if (slide_.tone.match > 0 || light != kNoLight) out.color = lit(out.color, light);
  return out;
}

// Brought to even light and matched tones.
LinearColor SlideView::lit(LinearColor c, const ColorFactors& light) const {
  const SlideTone& tone = slide_.tone;
  if (light != kNoLight) {
    c.r *= std::pow(light[0], -tone.even);
    c.g *= std::pow(light[1], -tone.even);
    c.b *= std::pow(light[2], -tone.even);
  }
  if (tone.match > 0) {
    const Oklab before = toOklab(c), after = matched(before, tone.from, tone.to);
    c = fromOklab({before.l + tone.match * (after.l - before.l), before.a + tone.match * (after.a - before.a),
                   before.b + tone.match * (after.b - before.b)});
  }
  return {std::max(0.f, c.r), std::max(0.f, c.g), std::max(0.f, c.b)};
}

}  // namespace juvenor
