#include "app/stage/map_previews.h"

#include "app/stage/map_list.h"

namespace juvenor::app {
namespace {

constexpr int kPreviewPixels = 64;

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

}  // namespace

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
    const auto map = texelMap(wish, (*ground)->input(NormalsFrom::Everything, true), progress);
    if (!map) return map.error();
    const MapToBake one{map->get(), roleOf(wish), planesOf(wish), MapDepth::Whole8, (*ground)->heightRange};
    const auto baked =
        bakeTile({tiles.front(), kPreviewPixels, 4, 0}, *(*ground)->places, std::span(&one, 1), progress);
    if (!baked) return baked.error();
    out.push_back(imageOf(baked->maps[0]));
  }
  return out;
}

}  // namespace juvenor::app
