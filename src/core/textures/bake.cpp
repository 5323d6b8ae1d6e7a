#include "core/textures/bake.h"

#include <atomic>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

enum Cover : uint8_t { kBare = 0, kCovered = 1, kMissed = 2 };

size_t texels(int pixels) {
  return static_cast<size_t>(pixels) * static_cast<size_t>(pixels);
}

MapPicture emptyPicture(const MapToBake& map, int pixels) {
  MapPicture out{pixels, map.planes, map.depth, {}};
  const size_t count = texels(pixels) * static_cast<size_t>(map.planes);
  if (map.depth == MapDepth::Whole8)
    out.values = std::vector<uint8_t>(count);
  else if (map.depth == MapDepth::Whole16)
    out.values = std::vector<uint16_t>(count);
  else
    out.values = std::vector<float>(count);
  return out;
}

// A value as the file will have it, 0…1 for whole numbers.
float kept(const MapToBake& map, size_t plane, float value) {
  const bool whole = map.depth == MapDepth::Whole8 || map.depth == MapDepth::Whole16;
  if (map.role == TextureRole::Height && whole) return 0.5f + 0.5f * value / map.heightRange;
  if (map.role == TextureRole::Color && plane < 3 && whole) return from16(encodeSrgb16(value));
  if (map.role == TextureRole::Id && plane < 3 && !whole) return decodeSrgb(value);
  return value;
}

void put(const MapToBake& map, const TexelMap::Values& values, size_t texel, MapPicture& out) {
  const auto planes = static_cast<size_t>(map.planes);
  std::visit(
      [&](auto& all) {
        using Value = typename std::decay_t<decltype(all)>::value_type;
        for (size_t c = 0; c < planes; ++c) {
          const float v = kept(map, c, values[c]);
          Value& to = all[texel * planes + c];
          if constexpr (std::is_same_v<Value, float>)
            to = v;
          else
            to = static_cast<Value>(
                std::lround(std::clamp(v, 0.f, 1.f) * static_cast<float>(std::numeric_limits<Value>::max())));
        }
      },
      out.values);
}

// What nothing covers and no padding reaches: level, straight up, and 0 for all else.
void putBare(const MapToBake& map, size_t texel, MapPicture& out) {
  if (map.role == TextureRole::Vector) put(map, {0.5f, 0.5f, 1, 0}, texel, out);
  if (map.role == TextureRole::Height) put(map, {0, 0, 0, 0}, texel, out);
}

class Bands {
 public:
  Bands(const TileSetting& setting, const TexelPlaces& places, std::span<const MapToBake> maps,
        BakedTile& out)
      : setting_(setting),
        places_(places),
        grid_(places.grid(setting.tile, setting.pixels)),
        maps_(maps),
        out_(out),
        cover_(texels(setting.pixels), kBare) {
    for (const MapToBake& map : maps) out.maps.push_back(emptyPicture(map, setting.pixels));
  }
  int count() const { return grid_.bands(); }
  const std::vector<uint8_t>& cover() const { return cover_; }

  void bake(int band) {
    const size_t inBand = static_cast<size_t>(grid_.rows(band)) * static_cast<size_t>(setting_.pixels),
                 first = static_cast<size_t>(grid_.firstRow(band)) * static_cast<size_t>(setting_.pixels);
    std::vector<TexelMap::Values> sums(grid_.empty(band) ? 0 : inBand * maps_.size());
    std::vector<uint8_t> places(inBand, 0), missed(inBand, 0);
    for (int look = 0; look < setting_.looks && !grid_.empty(band); ++look)
      places_.look(grid_, band, placeInTexel(look, setting_.looks), [&](size_t texel, const TexelPlace* p) {
        if (!p) {
          missed[texel] = 1;
          return;
        }
        ++places[texel];
        for (size_t m = 0; m < maps_.size(); ++m) maps_[m].map->add(*p, sums[texel * maps_.size() + m]);
      });
    for (size_t t = 0; t < inBand; ++t) {
      cover_[first + t] = places[t] > 0 ? kCovered : missed[t] > 0 ? kMissed : kBare;
      for (size_t m = 0; m < maps_.size(); ++m) {
        if (places[t] == 0) {
          putBare(maps_[m], first + t, out_.maps[m]);
          continue;
        }
        TexelMap::Values& sum = sums[t * maps_.size() + m];
        maps_[m].map->settle(sum, places[t]);
        put(maps_[m], sum, first + t, out_.maps[m]);
      }
    }
  }

 private:
  const TileSetting& setting_;
  const TexelPlaces& places_;
  TexelGrid grid_;
  std::span<const MapToBake> maps_;
  BakedTile& out_;
  std::vector<uint8_t> cover_;
};

}  // namespace

size_t bytesOf(const MapToBake& map, int pixels) {
  const size_t each = map.depth == MapDepth::Whole8 ? 1 : map.depth == MapDepth::Whole16 ? 2 : 4;
  return texels(pixels) * static_cast<size_t>(map.planes) * each;
}

Result<BakedTile> bakeTile(const TileSetting& setting, const TexelPlaces& places,
                           std::span<const MapToBake> maps, const Progress& progress) {
  BakedTile out;
  Bands bands(setting, places, maps, out);
  std::atomic<int> done = 0;
  std::atomic<bool> stopped = false;
  parallel(
      static_cast<size_t>(bands.count()),
      [&](size_t band) {
        if (stopped) return;
        bands.bake(static_cast<int>(band));
        if (!report(progress, 0.9f * static_cast<float>(++done) / static_cast<float>(bands.count())))
          stopped = true;
      },
      1);
  if (stopped) return cancelledError();
  const std::vector<uint8_t>& cover = bands.cover();
  for (const uint8_t c : cover) {
    out.covered += c != kBare;
    out.missed += c == kMissed;
  }
  const bool whole = out.covered == cover.size() && out.missed == 0;
  if (out.covered == out.missed || whole || (setting.padding == 0 && out.missed == 0)) return out;
  const Padding padding(cover, kCovered, setting.pixels, setting.pixels);
  for (size_t m = 0; m < maps.size(); ++m) {
    const auto planes = static_cast<size_t>(maps[m].planes);
    std::visit(
        [&](auto& values) {
          padding.fill(std::span(values), planes,
                       [&](size_t texel) { return cover[texel] == kMissed ? kPadAll : setting.padding; });
        },
        out.maps[m].values);
    if (!report(progress, 0.9f + 0.1f * static_cast<float>(m + 1) / static_cast<float>(maps.size())))
      return cancelledError();
  }
  return out;
}

}  // namespace juvenor
