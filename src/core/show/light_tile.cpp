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
  bool empty = true;  ///< nothing of the sculpt or its shadow was met yet
};

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
  if (!castVisibility(scene_.rays(), rayOf, size, scene_.document().hiddenParts, work.seen, stop))
    return false;
  if (input_.hair && !castHair(*input_.hair, *input_.surface, rayOf, work.seen, stop)) return false;
  ShadeInput input = input_;
  input.turn = pass;
  return shadeLight(input, work.seen, {0, 0, size.width, size.height}, work.light, stop);
}

bool TileMaker::make(const PixelRect& tile, LightTile& out, const std::function<bool()>& stop) const {
  const ViewSize size{tile.right - tile.left, tile.bottom - tile.top};
  const size_t count = static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
  out.assign(count, CoveredLight::Zero());
  TileWork work;
  work.light.resize(count);
  // so many passes that meet nothing are believed
  constexpr uint32_t kEnough = 8;
  const auto passes = static_cast<uint32_t>(std::clamp(wish_.samples, 1, kMostStillSamples));
  for (uint32_t pass = 0; pass < passes && !(work.empty && pass >= kEnough); ++pass) {
    if (!addPass(tile, pass, work, stop)) return false;
    const Vec2 jitter = jitterOf(static_cast<int>(pass));
    std::atomic<bool> met = false;
    parallel(
        static_cast<size_t>(size.height),
        [&](size_t row) {
          bool any = false;
          for (int x = 0; x < size.width; ++x) {
            const size_t at = row * static_cast<size_t>(size.width) + static_cast<size_t>(x);
            const bool covered = work.seen.triangle[at] != kNone ||
                                 (!work.seen.fibre.empty() && work.seen.fibre[at].segment != kNone);
            if (covered) {
              const Vec3& l = work.light[at];
              out[at] += CoveredLight(l.x(), l.y(), l.z(), 1);
            } else if (ground_) {
              const int px = tile.left + x, py = tile.top + static_cast<int>(row);
              out[at].w() +=
                  ground_->missing(rays_.through(px, py, jitter, pass), spreadOver(px, py, pass, 1), pass);
            }
            any = any || out[at].w() > 0;
          }
          if (any) met = true;
        },
        16);
    work.empty = work.empty && !met;
  }
  const float part = 1 / static_cast<float>(passes);
  for (CoveredLight& l : out) l *= part;
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
