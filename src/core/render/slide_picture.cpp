#include "core/render/slide_picture.h"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr int kCell = 8;       // pixels between places where the warp is worked out
constexpr int kOutline = 24;   // places along each side of the picture
constexpr int kTurnings = 12;  // Newton's steps to turn the warp round

// Half the view's height is one.
Vec2 viewOfPixel(const ViewSize& size, const Vec2& pixel) {
  const float half = 0.5f * static_cast<float>(size.height);
  return {(pixel.x() - 0.5f * static_cast<float>(size.width)) / half, 1 - pixel.y() / half};
}
Vec2 pixelOfView(const ViewSize& size, const Vec2& view) {
  const float half = 0.5f * static_cast<float>(size.height);
  return {0.5f * static_cast<float>(size.width) + half * view.x(), half * (1 - view.y())};
}

// Half its width and height, its longer side being one.
Vec2 extentOf(const PictureData& picture) {
  const auto longest = static_cast<float>(std::max(picture.width, picture.height));
  return {static_cast<float>(picture.width) / longest, static_cast<float>(picture.height) / longest};
}

struct Window {
  int left, top, right, bottom;
};

// The part of the view the picture's outline lies in.
Window windowOf(const SlideView& view, const PinWarp& warp, const ViewSize& size) {
  const Vec2 extent = extentOf(*view.slide().picture);
  Vec2 low = Vec2::Constant(1e9f), high = Vec2::Constant(-1e9f);
  for (int i = 0; i <= kOutline; ++i)
    for (int side = 0; side < 4; ++side) {
      const float t = 2 * static_cast<float>(i) / kOutline - 1, s = side < 2 ? -1.f : 1.f;
      const Vec2 at = side % 2 ? Vec2(t, s) : Vec2(s, t);
      const Vec2 pixel = pixelOfPicture(warp, size, at.cwiseProduct(extent));
      low = low.cwiseMin(pixel);
      high = high.cwiseMax(pixel);
    }
  // what is bent may bulge over its outline
  const Vec2 more = warp.bends() ? Vec2(0.1f * (high - low)) : Vec2(Vec2::Ones());
  const auto within = [](float v, int most) {
    return static_cast<int>(std::clamp(v, 0.f, static_cast<float>(most)));
  };
  return {within(low.x() - more.x(), size.width), within(low.y() - more.y(), size.height),
          within(high.x() + more.x() + 1, size.width), within(high.y() + more.y() + 1, size.height)};
}

uint32_t premultiplied(const PictureValue& value, float strength) {
  const float a = value.alpha * strength;
  const auto byte = [&](float linear) {
    return static_cast<uint32_t>(from16(encodeSrgb16(linear)) * a * 255 + 0.5f);
  };
  return static_cast<uint32_t>(a * 255 + 0.5f) << 24 | byte(value.color.r) << 16 | byte(value.color.g) << 8 |
         byte(value.color.b);
}

// The light behind each corner of the cells of a picture.
class LightGrid {
 public:
  LightGrid(const FormBehind& behind, const Camera& camera, const ViewSize& view, const SlidePicture& picture)
      : wide_((picture.size.width + kCell - 1) / kCell + 1),
        high_((picture.size.height + kCell - 1) / kCell + 1) {
    if (!behind.light) return;
    light_.resize(static_cast<size_t>(wide_) * static_cast<size_t>(high_), kNothing);
    const Lens lens(camera, view);
    const Surface& surface = behind.rays->surface();
    parallel(
        light_.size(),
        [&](size_t i) {
          const Vec2 pixel(static_cast<float>(picture.left + static_cast<int>(i) % wide_ * kCell),
                           static_cast<float>(picture.top + static_cast<int>(i) / wide_ * kCell));
          const Ray ray = lens.rayThrough(pixel);
          const auto hit = behind.rays->first(ray);
          if (!hit) return;
          const std::array<float, 3> weights{1 - hit->u - hit->v, hit->u, hit->v};
          const auto corner = std::ranges::max_element(weights) - weights.begin();
          const uint32_t sample = surface.triangles[hit->triangle][static_cast<size_t>(corner)];
          light_[i] =
              behind.light->at(sample, ray.origin + hit->distance * ray.direction, surface.normals[sample]);
        },
        64);
    for (int round = 0; round < kBeyond; ++round) growOver(round == 0 ? 0 : 0.6f);
  }

  /// At a place in cells from the picture's upper left corner.
  ColorFactors at(const Vec2& place) const {
    if (light_.empty()) return kNoLight;
    const int x = static_cast<int>(place.x()), y = static_cast<int>(place.y());
    const float u = place.x() - static_cast<float>(x), v = place.y() - static_cast<float>(y);
    ColorFactors out{};
    for (const auto& [dx, dy, by] : {std::tuple(0, 0, (1 - u) * (1 - v)), std::tuple(1, 0, u * (1 - v)),
                                     std::tuple(0, 1, (1 - u) * v), std::tuple(1, 1, u * v)}) {
      const ColorFactors& corner = light_[index(std::min(x + dx, wide_ - 1), std::min(y + dy, high_ - 1))];
      for (size_t c = 0; c < 3; ++c) out[c] += by * (corner == kNothing ? 1 : corner[c]);
    }
    return out;
  }

 private:
  static constexpr ColorFactors kNothing{};
  static constexpr int kBeyond = 4;  // cells over which it dies out past an outline

  size_t index(int x, int y) const {
    return static_cast<size_t>(y) * static_cast<size_t>(wide_) + static_cast<size_t>(x);
  }
  // `gone`: how far what is grown over is on its way to no light at all.
  void growOver(float gone) {
    const auto before = light_;
    for (int y = 0; y < high_; ++y)
      for (int x = 0; x < wide_; ++x) {
        if (before[index(x, y)] != kNothing) continue;
        ColorFactors sum{};
        float count = 0;
        for (int dy = std::max(0, y - 1); dy <= std::min(high_ - 1, y + 1); ++dy)
          for (int dx = std::max(0, x - 1); dx <= std::min(wide_ - 1, x + 1); ++dx) {
            const ColorFactors& near = before[index(dx, dy)];
            if (near == kNothing) continue;
            for (size_t c = 0; c < 3; ++c) sum[c] += near[c];
            ++count;
          }
        if (count > 0)
          for (size_t c = 0; c < 3; ++c) light_[index(x, y)][c] = sum[c] / count * (1 - gone) + gone;
      }
  }

  int wide_, high_;
  std::vector<ColorFactors> light_;
};

}  // namespace

Vec2 pictureOfPixel(const PinWarp& warp, const ViewSize& size, const Vec2& pixel) {
  return warp(viewOfPixel(size, pixel));
}

Vec2 pixelOfPicture(const PinWarp& warp, const ViewSize& size, const Vec2& onPicture) {
  const Affine2& flat = warp.affine();
  Vec2 view = flat.linear.inverse() * (onPicture - flat.offset);
  for (int i = 0; i < kTurnings && warp.bends(); ++i) {
    const Vec2 off = warp(view) - onPicture;
    const Eigen::Matrix2f slope = warp.slope(view);
    if (off.norm() < 1e-5f || !(std::abs(slope.determinant()) > 1e-9f)) break;
    const Vec2 step = slope.inverse() * off;
    view -= step * std::min(1.f, 0.5f / std::max(step.norm(), 1e-9f));
  }
  return view.allFinite() ? pixelOfView(size, view) : Vec2(Vec2::Zero());
}

SlidePicture drawnSlide(const SlideView& view, const ViewSize& size, float strength,
                        const FormBehind& behind) {
  const PinWarp warp = warpOf(view.slide());
  const Window window = windowOf(view, warp, size);
  SlidePicture out;
  out.left = window.left;
  out.top = window.top;
  out.size = {std::max(0, window.right - window.left), std::max(0, window.bottom - window.top)};
  out.pixels.resize(static_cast<size_t>(out.size.width) * static_cast<size_t>(out.size.height));
  const LightGrid light(behind, view.slide().camera, size, out);
  const int cells = (out.size.width + kCell - 1) / kCell, rows = (out.size.height + kCell - 1) / kCell;
  // of one pixel of the view, in units where half its height is one
  const float pixel = 2 / static_cast<float>(size.height);
  parallel(
      static_cast<size_t>(cells) * static_cast<size_t>(rows),
      [&](size_t cell) {
        const int x0 = static_cast<int>(cell) % cells * kCell, y0 = static_cast<int>(cell) / cells * kCell;
        const Vec2 middle(static_cast<float>(out.left + x0) + 0.5f * kCell,
                          static_cast<float>(out.top + y0) + 0.5f * kCell);
        const Vec2 at = viewOfPixel(size, middle);
        const Vec2 place = warp(at);
        const Eigen::Matrix2f slope = warp.slope(at) * pixel;
        for (int y = y0; y < std::min(y0 + kCell, out.size.height); ++y)
          for (int x = x0; x < std::min(x0 + kCell, out.size.width); ++x) {
            const Vec2 away(static_cast<float>(out.left + x) + 0.5f - middle.x(),
                            middle.y() - static_cast<float>(out.top + y) - 0.5f);
            const Vec2 onPicture = warp.bends() ? warp(at + pixel * away) : Vec2(place + slope * away);
            out.pixels[static_cast<size_t>(y) * static_cast<size_t>(out.size.width) +
                       static_cast<size_t>(x)] =
                premultiplied(
                    view.hanging(onPicture, slope.col(0).norm(),
                                 light.at(Vec2(static_cast<float>(x), static_cast<float>(y)) / kCell)),
                    strength);
          }
      },
      8);
  return out;
}

}  // namespace juvenor
