#include "core/stepback/step_back.h"

#include <algorithm>
#include <cmath>

#include "core/color/lab.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr uint32_t kDark = 0xff1c1c1c, kLight = 0xffd8d8d8;
constexpr int kSteps = 5;

// A picture of less pixels: the mean of the sculpt's own in each, and how much of each is sculpt.
struct Reduced {
  SmallPicture picture;
  std::vector<float> sculpt;
};

Vec3 linearOf(uint32_t pixel) {
  return {decodeSrgb(static_cast<float>(pixel >> 16 & 0xff) / 255),
          decodeSrgb(static_cast<float>(pixel >> 8 & 0xff) / 255),
          decodeSrgb(static_cast<float>(pixel & 0xff) / 255)};
}

uint32_t pixelOf(const Vec3& linear) {
  const auto byte = [](float v) {
    return static_cast<uint32_t>(std::lround(255 * encodeSrgb(std::clamp(v, 0.f, 1.f))));
  };
  return 0xff000000u | byte(linear.x()) << 16 | byte(linear.y()) << 8 | byte(linear.z());
}

Reduced reduced(std::span<const uint32_t> pixels, std::span<const uint8_t> sculpt, const ViewSize& whole,
                const PixelRect& rect, int across) {
  const int wide = rect.right - rect.left, high = rect.bottom - rect.top;
  const double part = std::max(1.0, static_cast<double>(std::max(wide, high)) / across);
  Reduced out;
  out.picture.size = {std::max(1, static_cast<int>(std::lround(wide / part))),
                      std::max(1, static_cast<int>(std::lround(high / part)))};
  const auto width = static_cast<size_t>(out.picture.size.width),
             height = static_cast<size_t>(out.picture.size.height);
  out.picture.pixels.assign(width * height, 0);
  out.sculpt.assign(width * height, 0);
  // the pixels of the whole that one of the small picture's stands for; at least one
  const auto stretch = [](size_t i, size_t count, int from, int length) {
    const int begin = from + static_cast<int>(i * static_cast<size_t>(length) / count);
    return std::pair(
        begin, std::max(begin + 1, from + static_cast<int>((i + 1) * static_cast<size_t>(length) / count)));
  };
  parallelEach(height, [&](size_t y) {
    for (size_t x = 0; x < width; ++x) {
      const auto [top, bottom] = stretch(y, height, rect.top, high);
      const auto [left, right] = stretch(x, width, rect.left, wide);
      Vec3 sum = Vec3::Zero();
      int count = 0;
      for (int py = top; py < bottom; ++py)
        for (int px = left; px < right; ++px) {
          const auto at =
              static_cast<size_t>(py) * static_cast<size_t>(whole.width) + static_cast<size_t>(px);
          if (!sculpt[at]) continue;
          sum += linearOf(pixels[at]);
          ++count;
        }
      if (count == 0) continue;
      out.picture.pixels[y * width + x] = pixelOf(sum / static_cast<float>(count));
      out.sculpt[y * width + x] =
          static_cast<float>(count) / static_cast<float>((bottom - top) * (right - left));
    }
  });
  return out;
}

uint32_t mixed(uint32_t below, uint32_t above, float part) {
  // most pixels are one or the other
  if (part <= 0) return below;
  if (part >= 1) return above;
  return pixelOf((1 - part) * linearOf(below) + part * linearOf(above));
}

// Even steps of lightness, as grey.
uint32_t greyStep(uint32_t pixel) {
  const auto l = static_cast<float>(
      toLab(EncodedColor{static_cast<float>(pixel >> 16 & 0xff) / 255,
                         static_cast<float>(pixel >> 8 & 0xff) / 255, static_cast<float>(pixel & 0xff) / 255})
          .l);
  const int step = std::clamp(static_cast<int>(l / 100 * kSteps), 0, kSteps - 1);
  // encoded grey is nearly even in lightness
  const auto grey = static_cast<uint32_t>(24 + step * (232 - 24) / (kSteps - 1));
  return 0xff000000u | grey << 16 | grey << 8 | grey;
}

PixelRect boundsOf(std::span<const uint8_t> sculpt, const ViewSize& size) {
  PixelRect out{size.width, size.height, 0, 0};
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x)
      if (sculpt[static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x)])
        out = {std::min(out.left, x), std::min(out.top, y), std::max(out.right, x + 1),
               std::max(out.bottom, y + 1)};
  return out;
}

// Over greys, from nothing to amber.
uint32_t warmed(uint32_t grey, float draw) {
  return mixed(grey, 0xfff0a030, std::clamp(draw, 0.f, 1.f));
}

}  // namespace

SteppedBack steppedBack(std::span<const uint32_t> pixels, std::span<const uint8_t> sculpt,
                        const ViewSize& size, int across, uint32_t background) {
  SteppedBack out;
  out.eye = whereTheEyeGoes(pixels, sculpt, size);
  const Reduced small = reduced(pixels, sculpt, size, {0, 0, size.width, size.height}, across);
  out.outline = out.greys = out.heat = small.picture;
  const float most = out.eye.strongest.empty() ? 0 : out.eye.strongest.front().draw;
  const ViewSize& all = small.picture.size;
  parallel(
      small.sculpt.size(),
      [&](size_t i) {
        const float part = small.sculpt[i];
        out.outline.pixels[i] = mixed(kLight, kDark, part);
        const uint32_t grey = part > 0 ? greyStep(small.picture.pixels[i]) : background;
        out.greys.pixels[i] = mixed(background, grey, part);
        const size_t x = i % static_cast<size_t>(all.width), y = i / static_cast<size_t>(all.width);
        const size_t mx = x * static_cast<size_t>(out.eye.size.width) / static_cast<size_t>(all.width),
                     my = y * static_cast<size_t>(out.eye.size.height) / static_cast<size_t>(all.height);
        const float draw =
            most > 0 ? out.eye.draw[my * static_cast<size_t>(out.eye.size.width) + mx] / most : 0;
        out.heat.pixels[i] = mixed(background, warmed(grey, draw), part);
      },
      1024);
  const PixelRect rect = boundsOf(sculpt, size);
  if (rect.empty()) return out;
  Reduced far = reduced(pixels, sculpt, size, rect, kFarPixels);
  for (size_t i = 0; i < far.sculpt.size(); ++i)
    far.picture.pixels[i] = mixed(background, far.picture.pixels[i], far.sculpt[i]);
  out.far = std::move(far.picture);
  return out;
}

SmallPicture flipped(const SmallPicture& picture) {
  SmallPicture out = picture;
  const auto width = static_cast<size_t>(picture.size.width);
  for (size_t row = 0; width > 0 && row < out.pixels.size() / width; ++row)
    std::reverse(out.pixels.begin() + static_cast<std::ptrdiff_t>(row * width),
                 out.pixels.begin() + static_cast<std::ptrdiff_t>((row + 1) * width));
  return out;
}

}  // namespace juvenor
