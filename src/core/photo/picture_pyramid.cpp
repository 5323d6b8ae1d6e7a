#include "core/photo/picture_pyramid.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

#include "core/parallel.h"

namespace juvenor {
namespace {

// Ellipses are looked up where their narrow side is between one and two of these deviations, in pixels of the
// level.
constexpr float kFinest = 0.8f;
// What a pixel of the picture is as a Gaussian by itself: less would show the grid, more would blur it.
constexpr float kPixelVariance = 0.2f;
// Half a sample's width, as a Gaussian: a disc of radius r has the variance r²/4 along each axis.
constexpr float kDiscDeviation = 0.5f;
constexpr float kReach = 2.2f;        // deviations to which weights are summed
constexpr float kMostStretched = 12;  // how many times longer than narrow ellipses may get

// 0…1 by its square root: as fine in the dark as an encoded value, and quick to bring back.
uint16_t rooted(float linear) {
  return to16(std::sqrt(std::max(0.f, linear)));
}
float unrooted(uint16_t value) {
  const float root = from16(value);
  return root * root;
}

// An ellipse of Gaussian weights in pixels of a level: exp(−½ dᵀ Q d).
struct Ellipse {
  Eigen::Matrix2f inverse;
  Vec2 reach;  // half the box around it
};

Ellipse ellipseOf(const Eigen::Matrix2f& variance) {
  return {variance.inverse(), {kReach * std::sqrt(variance(0, 0)), kReach * std::sqrt(variance(1, 1))}};
}

}  // namespace

PicturePyramid::PicturePyramid(PicturePointer picture) : picture_(std::move(picture)) {
  while (std::max(width(levels() - 1), height(levels() - 1)) > 1) halves_.push_back(halved(levels() - 1));
}

size_t PicturePyramid::bytes() const {
  size_t out = 0;
  for (const Half& h : halves_) out += h.pixels.size() * sizeof(h.pixels[0]);
  return out;
}

PicturePyramid::Premultiplied PicturePyramid::texel(size_t level, int x, int y) const {
  const auto at = static_cast<size_t>(y) * static_cast<size_t>(width(level)) + static_cast<size_t>(x);
  if (level > 0) {
    const std::array<uint16_t, 4>& p = halves_[level - 1].pixels[at];
    return {unrooted(p[0]), unrooted(p[1]), unrooted(p[2]), from16(p[3])};
  }
  const Straight16 p = picture_->straight(at);
  const float a = from16(p.a);
  return {a * decodeSrgb16(p.r), a * decodeSrgb16(p.g), a * decodeSrgb16(p.b), a};
}

PictureValue PicturePyramid::pixel(size_t level, int x, int y) const {
  const Premultiplied p = texel(level, x, y);
  if (!(p[3] > 0)) return {};
  return {{p[0] / p[3], p[1] / p[3], p[2] / p[3]}, p[3]};
}

// A pixel of a half covers two by two of those below; at the far edges of odd sizes only those that are
// there.
PicturePyramid::Half PicturePyramid::halved(size_t level) const {
  const int wide = width(level), high = height(level);
  Half out{(wide + 1) / 2, (high + 1) / 2, {}};
  out.pixels.resize(static_cast<size_t>(out.width) * static_cast<size_t>(out.height));
  parallel(
      static_cast<size_t>(out.height),
      [&](size_t row) {
        const int y = 2 * static_cast<int>(row);
        for (int x = 0; x < out.width; ++x) {
          Premultiplied sum = Premultiplied::Zero();
          float count = 0;
          for (int v = y; v < std::min(y + 2, high); ++v)
            for (int u = 2 * x; u < std::min(2 * x + 2, wide); ++u, ++count) sum += texel(level, u, v);
          sum /= count;
          out.pixels[row * static_cast<size_t>(out.width) + static_cast<size_t>(x)] = {
              rooted(sum[0]), rooted(sum[1]), rooted(sum[2]), to16(sum[3])};
        }
      },
      16);
  return out;
}

PictureValue PicturePyramid::at(const Vec2& pixel, const Eigen::Matrix2f& spread) const {
  const Eigen::Matrix2f half = kDiscDeviation * spread;
  Eigen::Matrix2f variance = half * half.transpose();
  if (!variance.allFinite() || !pixel.allFinite()) return {};
  // the squares of its half axes
  const float mean = 0.5f * variance.trace();
  const float apart = std::sqrt(std::max(0.f, mean * mean - variance.determinant()));
  const float wide = mean + apart, least = wide / (kMostStretched * kMostStretched);
  float narrow = std::max(0.f, mean - apart);
  if (narrow < least) {
    // widened across, not along
    variance +=
        (least - narrow) / std::max(2 * apart, 1e-30f) * (wide * Eigen::Matrix2f::Identity() - variance);
    narrow = least;
  }
  size_t level = 0;
  float scale = 1;
  while (level + 1 < levels() && std::sqrt(narrow) * scale > 2 * kFinest) {
    ++level;
    scale *= 0.5f;
  }
  // halving has blurred it by a box of a level's pixel, less that of the picture's own
  variance *= scale * scale;
  variance.diagonal().array() += kPixelVariance - (1 - scale * scale) / 12;
  const Vec2 middle = pixel * scale;
  const Ellipse ellipse = ellipseOf(variance);
  const int high = height(level), across = width(level);
  const auto first = [](float v) { return static_cast<int>(std::ceil(v - 0.5f)); };
  const auto last = [](float v) { return static_cast<int>(std::floor(v - 0.5f)); };
  const Vec2 low = middle - ellipse.reach, top = middle + ellipse.reach;
  // far beside it nothing is to be summed, and whole numbers would overflow
  if (low.x() > static_cast<float>(across) || low.y() > static_cast<float>(high) || top.x() < 0 ||
      top.y() < 0)
    return {};
  Premultiplied sum = Premultiplied::Zero();
  float all = 0;
  const float q00 = ellipse.inverse(0, 0), q01 = 2 * ellipse.inverse(0, 1), q11 = ellipse.inverse(1, 1);
  for (int y = first(low.y()); y <= last(top.y()); ++y)
    for (int x = first(low.x()); x <= last(top.x()); ++x) {
      const float dx = static_cast<float>(x) + 0.5f - middle.x(),
                  dy = static_cast<float>(y) + 0.5f - middle.y();
      const float away = q00 * dx * dx + q01 * dx * dy + q11 * dy * dy;
      if (away > kReach * kReach) continue;
      const float weight = std::exp(-0.5f * away);
      all += weight;
      if (x < 0 || y < 0 || x >= across || y >= high) continue;
      sum += weight * texel(level, x, y);
    }
  if (!(all > 0) || !(sum[3] > 0)) return {};
  return {{sum[0] / sum[3], sum[1] / sum[3], sum[2] / sum[3]}, sum[3] / all};
}

// As four texels, but between their roots, which is nearer to what the eye sees and takes a third of the
// time.
PictureValue PicturePyramid::between(const Half& half, int left, int top, float u, float v) {
  const auto root = [](const std::array<uint16_t, 4>& p) {
    return Premultiplied(static_cast<float>(p[0]), static_cast<float>(p[1]), static_cast<float>(p[2]),
                         static_cast<float>(p[3]));
  };
  const auto* upper = half.pixels.data() + static_cast<size_t>(top) * static_cast<size_t>(half.width) +
                      static_cast<size_t>(left);
  const auto* lower = upper + half.width;
  const Premultiplied mean = ((1 - v) * ((1 - u) * root(upper[0]) + u * root(upper[1])) +
                              v * ((1 - u) * root(lower[0]) + u * root(lower[1]))) /
                             65535.f;
  const float alpha = mean[3];
  if (!(alpha > 0)) return {};
  return {{mean[0] * mean[0] / alpha, mean[1] * mean[1] / alpha, mean[2] * mean[2] / alpha}, alpha};
}

PictureValue PicturePyramid::near(const Vec2& pixel, float width) const {
  size_t level = 0;
  float scale = 1;
  while (level + 1 < levels() && width * scale > 1.4f) {
    ++level;
    scale *= 0.5f;
  }
  const float x = pixel.x() * scale - 0.5f, y = pixel.y() * scale - 0.5f;
  const int across = this->width(level), high = height(level);
  if (!(x > -1 && y > -1 && x < static_cast<float>(across) && y < static_cast<float>(high))) return {};
  const int left = static_cast<int>(std::floor(x)), top = static_cast<int>(std::floor(y));
  const float u = x - static_cast<float>(left), v = y - static_cast<float>(top);
  if (level > 0 && left >= 0 && top >= 0 && left + 1 < across && top + 1 < high)
    return between(halves_[level - 1], left, top, u, v);
  Premultiplied sum = Premultiplied::Zero();
  for (int j = 0; j < 2; ++j)
    for (int i = 0; i < 2; ++i) {
      const int px = left + i, py = top + j;
      if (px < 0 || py < 0 || px >= across || py >= high) continue;
      sum += (i ? u : 1 - u) * (j ? v : 1 - v) * texel(level, px, py);
    }
  if (!(sum[3] > 0)) return {};
  return {{sum[0] / sum[3], sum[1] / sum[3], sum[2] / sum[3]}, sum[3]};
}

PyramidPointer pyramidOf(const PicturePointer& picture) {
  static std::mutex mutex;
  static std::map<const PictureData*, std::weak_ptr<const PicturePyramid>> known;
  const std::lock_guard hold(mutex);
  std::erase_if(known, [](const auto& entry) { return entry.second.expired(); });
  std::weak_ptr<const PicturePyramid>& entry = known[picture.get()];
  if (auto there = entry.lock()) return there;
  auto made = std::make_shared<const PicturePyramid>(picture);
  entry = made;
  return made;
}

}  // namespace juvenor
