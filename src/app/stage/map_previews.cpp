#include "app/stage/map_previews.h"

#include "app/stage/map_list.h"

namespace juvenor::app {
namespace {

constexpr int kSmallPixels = 64, kLargePixels = 1024;

QImage imageOf(const MapPicture& picture) {
  QImage out(picture.pixels, picture.pixels, QImage::Format_RGB32);
  const auto& values = std::get<std::vector<uint8_t>>(picture.values);
  for (int y = 0; y < picture.pixels; ++y)
    for (int x = 0; x < picture.pixels; ++x) {
      const size_t at = static_cast<size_t>((y * picture.pixels + x) * picture.planes);
      const bool grey = picture.planes < 3;
      out.setPixel(x, y, qRgb(values[at], values[at + (grey ? 0 : 1)], values[at + (grey ? 0 : 2)]));
    }
  return out;
}

Result<QImage> baked(const BakeGround& ground, const TextureWish& wish, int tile, int pixels,
                     const Progress& progress) {
  const auto map = texelMap(wish, ground.input(NormalsFrom::Everything, true), progress);
  if (!map) return map.error();
  const MapToBake one{map->get(), roleOf(wish), planesOf(wish), MapDepth::Whole8, ground.heightRange};
  const auto done = bakeTile({tile, pixels, 4, 0}, *ground.places, std::span(&one, 1), progress);
  if (!done) return done.error();
  return imageOf(done->maps[0]);
}

}  // namespace

Result<QImage> previewOf(const Document& document, const TextureWish& map, size_t uvSet, int tile,
                         const Progress& progress) {
  WornBy by;
  by.uvSet = uvSet;
  const auto ground = bakeGround(document, by, true, [&](float f) { return report(progress, 0.5f * f); });
  if (!ground) return ground.error();
  return baked(**ground, map, tile, kLargePixels, [&](float f) { return report(progress, 0.5f + 0.5f * f); });
}

Result<std::vector<QImage>> previews(const Document& document, size_t uvSet, const Progress& progress) {
  WornBy by;
  by.uvSet = uvSet;
  const auto ground = bakeGround(document, by, true, [&](float f) { return report(progress, 0.5f * f); });
  if (!ground) return ground.error();
  const std::vector<int> tiles = (*ground)->places->tiles();
  if (tiles.empty()) return std::vector<QImage>();
  std::vector<QImage> out;
  for (const TextureWish& wish : MapList::offered(document.surface->bounds.diagonal())) {
    // surface maps are measured when they are baked; here only those that are there already show
    const bool measured = wish.kind == TextureKind::Measured || wish.kind == TextureKind::Packed;
    if (measured && !(wish.kind == TextureKind::Measured && document.maps->known(wish.measure))) {
      out.emplace_back();
      continue;
    }
    if (!report(progress, 0.5f)) return cancelledError();
    auto picture = baked(**ground, wish, tiles.front(), kSmallPixels, progress);
    if (!picture) return picture.error();
    out.push_back(std::move(*picture));
  }
  return out;
}

}  // namespace juvenor::app
