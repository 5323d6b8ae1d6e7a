#include "core/show/light_tile.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/render/hair_seen.h"

namespace juvenor {

// What a tile holds while it is made.
struct TileWork {
  VisibilityImage seen;
  std::vector<Vec3> light;
  LightTile halfWay;          ///< the sums when half as many passes were added as at the next look
  std::vector<uint8_t> done;  ///< pixels whose noise no one would see
  std::vector<float> passes;  ///< that were added to each pixel
  std::vector<float> unsure;  ///< how far two halves of the passes lie apart, as it is shown
  bool empty = true;          ///< nothing of the sculpt or its shadow was met yet
};

namespace {

// Halves of the passes that lie no farther apart, 0…1 as it is shown: their mean is within half a byte.
constexpr float kUnseen = 1.f / 255;
// A tile that meets nothing in so many passes is believed to be empty.
constexpr uint32_t kEmptyPasses = 8;

float apart(const CoveredLight& a, const CoveredLight& b) {
  // near enough to how light is encoded
  const auto shown = [](const CoveredLight& l) { return CoveredLight(l.max(0.f).min(1.f).sqrt()); };
  const CoveredLight light = (shown(a) - shown(b)).abs();
  return std::max({light.x(), light.y(), light.z(), std::abs(a.w() - b.w())});
}

// Looks at both halves of `count` passes; a pixel is done where it and all around it agree (cf. Mitchell
// 1987). False when there is nothing left to do.
bool lookAgain(const ViewSize& size, uint32_t count, const LightTile& sums, TileWork& work) {
  const float part = 2 / static_cast<float>(count);
  for (size_t at = 0; at < sums.size(); ++at) {
    if (!work.done[at])
      work.unsure[at] = apart(part * work.halfWay[at], part * (sums[at] - work.halfWay[at]));
    work.halfWay[at] = sums[at];
  }
  bool more = false;
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x) {
      const size_t at = static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x);
      if (work.done[at]) continue;
      float most = 0;
      for (int dy = std::max(0, y - 1); dy <= std::min(size.height - 1, y + 1); ++dy)
        for (int dx = std::max(0, x - 1); dx <= std::min(size.width - 1, x + 1); ++dx)
          most = std::max(most, work.unsure[static_cast<size_t>(dy) * static_cast<size_t>(size.width) +
                                            static_cast<size_t>(dx)]);
      work.done[at] = most <= kUnseen;
      more = more || !work.done[at];
    }
  return more;
}

}  // namespace

TileMaker::TileMaker(const ShownScene& scene, const StillWish& wish)
    : scene_(scene),
      wish_(wish),
      input_(scene.input(wish.look.camera, wish.look.view)),
      rays_(wish.look.camera, wish.size, wish.look.focus, scene.document().placement.millimetres) {
  input_.whole = wish.size;
  input_.background = 0xff000000u;
  input_.light.exposure = wish.look.light.exposure;
  if (wish.look.backdrop.ground && input_.by) ground_.emplace(scene, *input_.by);
}

bool TileMaker::addPass(const PixelRect& tile, uint32_t pass, TileWork& work,
                        const std::function<bool()>& stop) const {
  const ViewSize size{tile.right - tile.left, tile.bottom - tile.top};
  const Vec2 jitter = jitterOf(static_cast<int>(pass));
  const PixelRays rayOf = [&](int x, int y) {
    return rays_.through(tile.left + x, tile.top + y, jitter, pass);
  };
  if (!castVisibility(scene_.rays(), rayOf, size, scene_.document().hiddenParts, work.done, work.seen, stop))
    return false;
  if (input_.hair && !castHair(*input_.hair, *input_.surface, rayOf, work.done, work.seen, stop))
    return false;
  ShadeInput input = input_;
  input.turn = pass;
  return shadeLight(input, work.seen, {0, 0, size.width, size.height}, work.light, stop);
}

// Adds a pass to the sums; whether it met anything.
bool TileMaker::sumPass(const PixelRect& tile, uint32_t pass, TileWork& work, LightTile& sums) const {
  const ViewSize size{tile.right - tile.left, tile.bottom - tile.top};
  const Vec2 jitter = jitterOf(static_cast<int>(pass));
  std::atomic<bool> met = false;
  parallel(
      static_cast<size_t>(size.height),
      [&](size_t row) {
        bool any = false;
        for (int x = 0; x < size.width; ++x) {
          const size_t at = row * static_cast<size_t>(size.width) + static_cast<size_t>(x);
          if (work.done[at]) continue;
          const bool covered = work.seen.triangle[at] != kNone ||
                               (!work.seen.fibre.empty() && work.seen.fibre[at].segment != kNone);
          if (covered) {
            const Vec3& l = work.light[at];
            sums[at] += CoveredLight(l.x(), l.y(), l.z(), 1);
          } else if (ground_) {
            const int px = tile.left + x, py = tile.top + static_cast<int>(row);
            sums[at].w() +=
                ground_->missing(rays_.through(px, py, jitter, pass), spreadOver(px, py, pass, 1), pass);
          }
          ++work.passes[at];
          any = any || sums[at].w() > 0;
        }
        if (any) met = true;
      },
      16);
  return met;
}

bool TileMaker::make(const PixelRect& tile, LightTile& out, const std::function<bool()>& stop) const {
  const ViewSize size{tile.right - tile.left, tile.bottom - tile.top};
  const size_t count = static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
  out.assign(count, CoveredLight::Zero());
  TileWork work;
  work.light.resize(count);
  work.done.assign(count, 0);
  work.passes.assign(count, 0);
  work.unsure.assign(count, 0);
  const auto passes = static_cast<uint32_t>(std::clamp(wish_.samples, 1, kMostStillSamples));
  auto look = static_cast<uint32_t>(std::max(2, wish_.firstLook));
  for (uint32_t pass = 0; pass < passes; ++pass) {
    if (!addPass(tile, pass, work, stop)) return false;
    work.empty = !sumPass(tile, pass, work, out) && work.empty;
    const uint32_t added = pass + 1;
    if (work.empty && added >= std::min(kEmptyPasses, look)) break;
    if (work.halfWay.empty() && added == look / 2) work.halfWay = out;
    if (added == look) {
      if (!lookAgain(size, added, out, work)) break;
      look *= 2;
    }
  }
  for (size_t at = 0; at < count; ++at) out[at] /= std::max(1.f, work.passes[at]);
  return true;
}

std::vector<PixelRect> stillTiles(const ViewSize& size) {
  std::vector<PixelRect> out;
  for (int y = 0; y < size.height; y += kStillTile)
    for (int x = 0; x < size.width; x += kStillTile)
      out.push_back(PixelRect{x, y, x + kStillTile, y + kStillTile}.clipped(size));
  const auto away = [&](const PixelRect& r) {
    const auto dx = static_cast<float>(r.left + r.right - size.width),
               dy = static_cast<float>(r.top + r.bottom - size.height);
    return dx * dx + dy * dy;
  };
  std::ranges::stable_sort(out, {}, away);
  return out;
}

}  // namespace juvenor
