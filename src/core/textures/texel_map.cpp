#include "core/textures/texel_map.h"

#include <fmt/format.h>

#include <cmath>

#include "core/layers/composite/composite.h"

namespace juvenor {
namespace {

// Mean of a value at the three samples of a place.
template <class At>
float mean(const TexelPlace& p, At&& at) {
  return p.weights[0] * at(p.samples[0]) + p.weights[1] * at(p.samples[1]) + p.weights[2] * at(p.samples[2]);
}

class ColorTexels : public TexelMap {
 public:
  explicit ColorTexels(const ColorField& field) : field_(field) {}
  // Between samples as the easel draws it, encoded; over an area as light.
  void add(const TexelPlace& p, Values& sum) const override {
    for (size_t c = 0; c < 3; ++c) {
      const float encoded = mean(p, [&](uint32_t s) {
        return static_cast<float>(field_.chunk(s / kChunkSize)->plane[c][s % kChunkSize]);
      });
      sum[c] += decodeSrgb16(static_cast<uint16_t>(encoded + 0.5f));
    }
  }

 private:
  const ColorField& field_;
};

// Colours times how strongly they glow, as light.
class EmissionTexels : public TexelMap {
 public:
  explicit EmissionTexels(const ChannelFields& skin)
      : color_(skin.color()), glow_(skin.get<Channel::Glow>()) {}
  void add(const TexelPlace& p, Values& sum) const override {
    const float glow = mean(p, [&](uint32_t s) { return from16(glow_.at(s)[0]); });
    if (!(glow > 0)) return;
    Values color{};
    color_.add(p, color);
    for (size_t c = 0; c < 3; ++c) sum[c] += glow * color[c];
  }

 private:
  ColorTexels color_;
  const CoverField& glow_;
};

// A layer by itself: premultiplied colours and alpha, which become straight again.
class LayerTexels : public TexelMap {
 public:
  explicit LayerTexels(ColorField field) : field_(std::move(field)) {}
  void add(const TexelPlace& p, Values& sum) const override {
    Values encoded{};
    for (size_t k = 0; k < 3; ++k) {
      const auto value = field_.at(p.samples[k]);
      for (size_t c = 0; c < 4; ++c) encoded[c] += p.weights[k] * from16(value[c]);
    }
    if (!(encoded[3] > 0)) return;
    for (size_t c = 0; c < 3; ++c)
      sum[c] += encoded[3] * decodeSrgb16(to16(std::min(1.f, encoded[c] / encoded[3])));
    sum[3] += encoded[3];
  }
  void settle(Values& sum, float places) const override {
    for (size_t c = 0; c < 3 && sum[3] > 0; ++c) sum[c] /= sum[3];
    sum[3] /= places;
  }

 private:
  ColorField field_;
};

// One plane of a field, scaled.
template <int Planes>
class FieldTexels : public TexelMap {
 public:
  FieldTexels(const Field<Planes>& field, float scale, float offset)
      : field_(field), scale_(scale), offset_(offset) {}
  void add(const TexelPlace& p, Values& sum) const override {
    sum[0] +=
        offset_ + scale_ * mean(p, [&](uint32_t s) {
                    const auto& chunk = field_.chunk(s / kChunkSize);
                    return static_cast<float>(chunk ? chunk->plane[0][s % kChunkSize] : field_.fallback()[0]);
                  });
  }

 private:
  Field<Planes> field_;
  float scale_, offset_;
};

template <Channel C>
TexelMapPointer channelTexels(const MapInput& in, bool turned) {
  const float unit = 1.f / 65535;
  return std::make_unique<FieldTexels<2>>(in.skin->get<C>(), turned ? -unit : unit, turned ? 1.f : 0.f);
}

// Millimetres above the mesh that wears it.
class HeightTexels : public TexelMap {
 public:
  explicit HeightTexels(const MapInput& in)
      : relief_(in.skin->get<Channel::Relief>()),
        step_(in.document->reliefStep),
        millimetres_(in.document->placement.millimetres) {}
  void add(const TexelPlace& p, Values& sum) const override {
    const float relief = mean(p, [&](uint32_t s) { return static_cast<float>(relief_.at(s)[0]) - kLevel; });
    sum[0] += millimetres_ * (p.distance + step_ * relief);
  }

 private:
  const ScalarField& relief_;
  float step_, millimetres_;
};

class MeasureTexels : public TexelMap {
 public:
  explicit MeasureTexels(MapPointer map) : map_(std::move(map)) {}
  void add(const TexelPlace& p, Values& sum) const override {
    sum[0] += mean(p, [&](uint32_t s) { return from16((*map_)[s]); });
  }

 private:
  MapPointer map_;
};

// The part that most of a texel's places lie in is the first one's: near enough, and never a mixed colour.
class PartTexels : public TexelMap {
 public:
  explicit PartTexels(const Surface& surface) : surface_(surface) {}
  void add(const TexelPlace& p, Values& sum) const override {
    if (sum[3] > 0) return;
    const EncodedColor c = colorOfPart(surface_.triangleParts[p.skinTriangle]);
    sum = {c.r, c.g, c.b, 1};
  }
  void settle(Values&, float) const override {}

 private:
  const Surface& surface_;
};

class FoundTexels : public TexelMap {
 public:
  void add(const TexelPlace&, Values& sum) const override { sum[0] += 1; }
};

class PackedTexels : public TexelMap {
 public:
  explicit PackedTexels(std::vector<TexelMapPointer> maps) : maps_(std::move(maps)) {}
  void add(const TexelPlace& p, Values& sum) const override {
    for (size_t m = 0; m < maps_.size(); ++m) {
      Values one{};
      maps_[m]->add(p, one);
      sum[m] += one[0];
    }
  }

 private:
  std::vector<TexelMapPointer> maps_;
};

Result<const PreparedLayer*> preparedLayer(const MapInput& in, uint32_t id) {
  for (const PreparedLayer& p : *in.stack)
    if (p.layer->id == id) return &p;
  return Error{fmt::format("there is no layer {} that is seen", id)};
}

Result<TexelMapPointer> layerTexels(const MapInput& in, uint32_t id) {
  const auto layer = preparedLayer(in, id);
  if (!layer) return layer.error();
  ColorField field(in.document->surface->size());
  field.makeRoom();
  parallel(
      field.chunkCount(), [&](size_t c) { field.setChunk(c, ownChunk(*in.stack, id, in.document->bare, c)); },
      1);
  return TexelMapPointer(std::make_unique<LayerTexels>(std::move(field)));
}

}  // namespace

EncodedColor colorOfPart(uint32_t part) {
  // hues by the golden ratio, in three brightnesses
  const float hue = std::fmod(0.61803399f * static_cast<float>(part) + 0.05f, 1.f) * 6;
  const float value = 1 - 0.25f * static_cast<float>(part % 3);
  const auto at = [&](float offset) {
    const float x = std::fmod(hue + offset, 6.f);
    return value * std::clamp(std::abs(x - 3) - 1, 0.f, 1.f);
  };
  return {at(0), at(4), at(2)};
}

Result<TexelMapPointer> texelMap(const TextureWish& wish, const MapInput& in, const Progress& progress) {
  const auto made = [](auto map) -> Result<TexelMapPointer> { return TexelMapPointer(std::move(map)); };
  switch (wish.kind) {
    case TextureKind::Colour:
      return made(std::make_unique<ColorTexels>(in.skin->color()));
    case TextureKind::Roughness:
      return made(channelTexels<Channel::Gloss>(in, true));
    case TextureKind::Gloss:
      return made(channelTexels<Channel::Gloss>(in, false));
    case TextureKind::Metal:
      return made(channelTexels<Channel::Metal>(in, false));
    case TextureKind::Glow:
      return made(channelTexels<Channel::Glow>(in, false));
    case TextureKind::Wander:
      return made(channelTexels<Channel::Wander>(in, false));
    case TextureKind::Coat:
      return made(channelTexels<Channel::Coat>(in, false));
    case TextureKind::Fuzz:
      return made(channelTexels<Channel::Fuzz>(in, false));
    case TextureKind::Emission:
      return made(std::make_unique<EmissionTexels>(*in.skin));
    case TextureKind::Height:
      return made(std::make_unique<HeightTexels>(in));
    case TextureKind::Normal:
      return made(normalTexels(in));
    case TextureKind::Measured: {
      auto map = in.document->maps->map(wish.measure, progress);
      if (!map) return map.error();
      return made(std::make_unique<MeasureTexels>(std::move(*map)));
    }
    case TextureKind::Layer:
      return layerTexels(in, wish.layer);
    case TextureKind::Mask: {
      const auto layer = preparedLayer(in, wish.layer);
      if (!layer) return layer.error();
      return made(std::make_unique<FieldTexels<1>>(wholeMask(**layer, in.document->surface->size()),
                                                   1.f / 65535, 0.f));
    }
    case TextureKind::Parts:
      return made(std::make_unique<PartTexels>(*in.document->surface));
    case TextureKind::Melanin:
      return made(toneTexels(in, &SkinTone::melanin));
    case TextureKind::Blood:
      return made(toneTexels(in, &SkinTone::blood));
    case TextureKind::Found:
      return made(std::make_unique<FoundTexels>());
    case TextureKind::Packed:
      break;
  }
  std::vector<TexelMapPointer> maps;
  for (const TextureWish& one : wish.packed) {
    auto map = texelMap(one, in, progress);
    if (!map) return map;
    maps.push_back(std::move(*map));
  }
  return made(std::make_unique<PackedTexels>(std::move(maps)));
}

}  // namespace juvenor
