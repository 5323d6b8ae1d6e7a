#include "core/textures/map_pyramid.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {

MapPyramid::MapPyramid(RawPicture picture) : planes_(picture.planes) {
  levels_.push_back({picture.width, picture.height, std::move(picture.values)});
  while (levels_.back().width > 1 || levels_.back().height > 1) halve();
}

// (points are mostly coarser than texels: the finest level is hardly asked, and stays as it came)
MapPyramid::MapPyramid(PicturePointer picture) : planes_(4), picture_(std::move(picture)) {
  levels_.push_back({picture_->width, picture_->height, {}});
  while (levels_.back().width > 1 || levels_.back().height > 1) halve();
}

MapPyramid::Texel MapPyramid::texel(const Level& level, int x, int y) const {
  const size_t at = static_cast<size_t>(y) * static_cast<size_t>(level.width) + static_cast<size_t>(x);
  if (level.values.empty()) {
    const Straight16 p = picture_->straight(at);
    return from16(p.a) * Texel(decodeSrgb16(p.r), decodeSrgb16(p.g), decodeSrgb16(p.b), 1);
  }
  if (planes_ == 4) return Eigen::Map<const Texel>(&level.values[4 * at]);
  const auto planes = static_cast<size_t>(planes_);
  Texel out = Texel::Zero();
  std::copy_n(&level.values[at * planes], planes, out.data());
  return out;
}

void MapPyramid::halve() {
  const Level& from = levels_.back();
  Level to{(from.width + 1) / 2, (from.height + 1) / 2, {}};
  const auto planes = static_cast<size_t>(planes_);
  to.values.resize(static_cast<size_t>(to.width) * static_cast<size_t>(to.height) * planes);
  parallel(
      static_cast<size_t>(to.height),
      [&](size_t y) {
        float* out = &to.values[y * static_cast<size_t>(to.width) * planes];
        for (int x = 0; x < to.width; ++x, out += planes) {
          const int right = std::min(from.width - 1, 2 * x + 1), top = 2 * static_cast<int>(y),
                    bottom = std::min(from.height - 1, top + 1);
          const Texel mean = 0.25f * (texel(from, 2 * x, top) + texel(from, right, top) +
                                      texel(from, 2 * x, bottom) + texel(from, right, bottom));
          std::copy_n(mean.data(), planes, out);
        }
      },
      16);
  levels_.push_back(std::move(to));
}

MapPyramid::Texel MapPyramid::between(const Level& level, const Vec2& uv) const {
  const float x = uv.x() * static_cast<float>(level.width) - 0.5f,
              y = (1 - uv.y()) * static_cast<float>(level.height) - 0.5f;
  const auto within = [](float v, int size) { return std::clamp(v, 0.f, static_cast<float>(size - 1)); };
  const float cx = within(x, level.width), cy = within(y, level.height);
  const auto left = static_cast<int>(cx), top = static_cast<int>(cy);
  const float u = cx - static_cast<float>(left), v = cy - static_cast<float>(top);
  const int right = std::min(left + 1, level.width - 1), bottom = std::min(top + 1, level.height - 1);
  return (1 - v) * ((1 - u) * texel(level, left, top) + u * texel(level, right, top)) +
         v * ((1 - u) * texel(level, left, bottom) + u * texel(level, right, bottom));
}

MapPyramid::Values MapPyramid::at(const Vec2& uv, const Vec2& along, float across) const {
  // two looks across and as many along as the footprint is longer: the halves that are looked at are half as
  // wide as it, so that little of what lies around comes in
  constexpr int kMostTaps = 8, kAcross = 2;
  const float texels = static_cast<float>(std::max(width(), height()));
  const float longer = 2 * along.norm() * texels;
  const float shorter = std::max({2 * across * texels, longer * kAcross / kMostTaps, 1e-6f});
  const float level = std::log2(std::max(1.f, shorter / kAcross));
  const int taps = shorter <= 1 && longer <= 1
                       ? 1
                       : std::clamp(static_cast<int>(std::lround(kAcross * longer / shorter)), 1, kMostTaps);
  const int rows = shorter <= 1 ? 1 : kAcross;
  const auto low = static_cast<size_t>(std::min(level, static_cast<float>(levels_.size() - 1)));
  const size_t high = std::min(low + 1, levels_.size() - 1);
  const float part = std::min(1.f, level - static_cast<float>(low));
  const Vec2 sideways = longer > 0 ? Vec2(across / along.norm() * Vec2(-along.y(), along.x())) : Vec2(0, 0);
  const auto place = [](int k, int count) {
    return (2 * static_cast<float>(k) + 1) / static_cast<float>(count) - 1;
  };
  Texel sum = Texel::Zero();
  for (int r = 0; r < rows; ++r)
    for (int k = 0; k < taps; ++k) {
      const Vec2 at = uv + place(k, taps) * along + place(r, rows) * sideways;
      sum += (1 - part) * between(levels_[low], at);
      if (part > 0) sum += part * between(levels_[high], at);
    }
  sum /= static_cast<float>(taps * rows);
  return {sum[0], sum[1], sum[2], sum[3]};
}

std::array<uint16_t, 4> encodedColor(const MapPyramid::Values& linear) {
  const float alpha = std::clamp(linear[3], 0.f, 1.f);
  if (!(alpha > 0)) return {};
  const auto plane = [&](size_t c) { return to16(alpha * from16(encodeSrgb16(linear[c] / alpha))); };
  return {plane(0), plane(1), plane(2), to16(alpha)};
}

}  // namespace juvenor
