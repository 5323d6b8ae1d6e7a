#include "core/show/still_picture.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/parallel.h"

namespace juvenor {
namespace {

// The straight light of a pixel: what it is where it is covered.
Vec3 straightLight(const StillPicture& picture, size_t at) {
  const float cover = picture.cover(at);
  return cover > 0 ? Vec3(picture.light(at) / cover) : picture.light(at);
}

class Assembly {
 public:
  Assembly(const StillWish& wish, const BackdropLight* behind, StillPicture& into)
      : behind_(behind), into_(into), lens_(wish.look.camera, wish.size) {}

  void put(const PixelRect& rect, const LightTile& tile) const {
    eachPixel(rect, [&](int x, int y, size_t within, size_t at) {
      const CoveredLight& l = tile[within];
      Vec3 light(l.x(), l.y(), l.z());
      float cover = l.w();
      if (behind_) {
        light += (1 - cover) * behind(x, y);
        cover = 1;
      }
      into_.set(at, light, cover);
    });
  }
  // As it is shown while it grows: what is clear stands before a grey.
  TileShown shown(const PixelRect& rect) const {
    TileShown out{rect, {}};
    out.pixels.resize(static_cast<size_t>(rect.right - rect.left) *
                      static_cast<size_t>(rect.bottom - rect.top));
    const Vec3 grey = untoned(0xff6c6c6cu, into_.toning);
    eachPixel(rect, [&](int x, int y, size_t within, size_t at) {
      const Vec3 light = into_.light(at) + (1 - into_.cover(at)) * grey;
      out.pixels[within] = toned(light, into_.toning, x, y);
    });
    return out;
  }

 private:
  Vec3 behind(int x, int y) const {
    return behind_->at(x, y, lens_.rayThrough({static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f}));
  }
  template <class Visit>
  void eachPixel(const PixelRect& rect, Visit visit) const {
    const auto wide = static_cast<size_t>(into_.size.width);
    parallelRows(rect.top, rect.bottom, [&](int y) {
      size_t within = static_cast<size_t>(y - rect.top) * static_cast<size_t>(rect.right - rect.left);
      size_t at = static_cast<size_t>(y) * wide + static_cast<size_t>(rect.left);
      for (int x = rect.left; x < rect.right; ++x) visit(x, y, within++, at++);
    });
  }

  const BackdropLight* behind_;
  StillPicture& into_;
  Lens lens_;
};

}  // namespace

Outcome checkedWish(const StillWish& wish) {
  if (wish.size.width < 1 || wish.size.height < 1 || wish.size.width > kLargestStill ||
      wish.size.height > kLargestStill)
    return Error{fmt::format("a still is from 1 × 1 to {0} × {0} pixels large", kLargestStill)};
  if (wish.samples < 1 || wish.samples > kMostStillSamples)
    return Error{fmt::format("a pixel takes from 1 to {} samples", kMostStillSamples)};
  return Done{};
}

Focus focusedOn(const ShownScene& scene, const Look& look) {
  Focus out = look.focus;
  if (out.sharp || !(out.aperture > 0)) return out;
  const Ray middle = Lens(look.camera, {2, 2}).rayThrough({1, 1});
  if (const auto hit = scene.rays().first(middle, scene.document().hiddenParts))
    out.sharp = middle.origin + hit->distance * middle.direction;
  return out;
}

Outcome layLight(ShownScene& scene, const Look& look, const Progress& progress) {
  if (look.view != View::Clay && look.view != View::Skin) return Done{};
  return scene.setLight(lightIn(look), viewAxes(look.camera), look.view == View::Skin, progress);
}

Result<StillPicture> stillOfLit(const ShownScene& scene, const StillWish& wish, bool clear,
                                const OnTile& onTile, const Progress& progress) {
  if (const Outcome ok = checkedWish(wish); !ok) return ok.error();
  StillPicture out;
  out.size = wish.size;
  out.toning = wish.look.view < View::Clay ? Toning::Plain : Toning::Light;
  out.pixels.resize(static_cast<size_t>(wish.size.width) * static_cast<size_t>(wish.size.height));
  std::optional<BackdropLight> behind;
  if (!clear) {
    auto made =
        BackdropLight::of(wish.look.backdrop, wish.size, lightIn(wish.look), out.toning, wish.backdrop);
    if (!made) return made.error();
    behind.emplace(std::move(*made));
  }
  StillWish sharp = wish;
  sharp.look.focus = focusedOn(scene, wish.look);
  const TileMaker maker(scene, sharp);
  const Assembly assembly(wish, behind ? &*behind : nullptr, out);
  const std::vector<PixelRect> tiles = stillTiles(wish.size);
  LightTile tile;
  for (size_t i = 0; i < tiles.size(); ++i) {
    const float done = static_cast<float>(i) / static_cast<float>(tiles.size());
    if (!maker.make(tiles[i], tile, [&] { return !report(progress, done); })) return cancelledError();
    assembly.put(tiles[i], tile);
    if (onTile) onTile(assembly.shown(tiles[i]));
  }
  return out;
}

Result<StillPicture> stillPicture(ShownScene& scene, const StillWish& wish, bool clear, const OnTile& onTile,
                                  const Progress& progress) {
  constexpr float kLight = 0.2f;
  const Outcome laid = layLight(scene, wish.look, [&](float f) { return report(progress, kLight * f); });
  if (!laid) return laid.error();
  return stillOfLit(scene, wish, clear, onTile,
                    [&](float f) { return report(progress, kLight + (1 - kLight) * f); });
}

std::vector<uint32_t> bytesOf(const StillPicture& picture) {
  std::vector<uint32_t> out(picture.pixels.size());
  const auto wide = static_cast<size_t>(picture.size.width);
  parallel(
      static_cast<size_t>(picture.size.height),
      [&](size_t y) {
        for (size_t x = 0; x < wide; ++x) {
          const size_t at = y * wide + x;
          const uint32_t rgb =
              toned(straightLight(picture, at), picture.toning, static_cast<int>(x), static_cast<int>(y));
          out[at] = (rgb & 0xffffffu) | static_cast<uint32_t>(picture.cover(at) * 255 + 0.5f) << 24;
        }
      },
      16);
  return out;
}

}  // namespace juvenor
