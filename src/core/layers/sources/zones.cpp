// Each zone names a target for the colour below: the same lightness pushed toward a hue in Oklab, or a plain
// colour. Where zones meet, targets are mixed by their weights and the weights join as coverages do, so that
// the order of zones does not matter and no place is pushed further than its strongest zone asks.
#include "core/layers/sources/zones.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/color/oklab.h"

namespace juvenor {
namespace {

// Sums over the zones at the samples of one chunk.
struct Mixed {
  std::array<float, kChunkSize> weight{}, open;  // open: the part no zone covers
  std::array<Oklab, kChunkSize> target{}, below;

  Mixed() { open.fill(1); }
};

class Zones final : public LayerSource {
 public:
  explicit Zones(ZoneSet set) : set_(std::move(set)) {}

  std::string_view kind() const override { return "zones"; }
  nlohmann::json parameters() const override { return toJson(set_); }
  SourcePointer refined(const Refined&) const override { return zoneSource(set_); }
  std::string remark() const override {
    return fmt::format("{} zone{}", set_.zones.size(), set_.zones.size() == 1 ? "" : "s");
  }
  const ZoneSet& set() const { return set_; }

  Outcome prepare(SurfaceMaps& maps, const Progress& progress) const override {
    // what large and melted zones stand on is there before one is dragged
    if (!set_.zones.empty()) (void)maps.ladder();
    if (!report(progress, 0.5f)) return cancelledError();
    tbb::parallel_for(size_t{0}, set_.zones.size(),
                      [&](size_t z) { (void)influenceOf(maps, set_.zones[z], set_.melt); });
    return report(progress, 1.f) ? Outcome(Done{}) : cancelledError();
  }

  ColorField::Pointer chunk(SurfaceMaps& maps, size_t index, const ColorChunk& below) const override {
    std::unique_ptr<Mixed> mixed;
    for (const HueZone& zone : set_.zones) {
      const ZoneInfluencePointer influence = influenceOf(maps, zone, set_.melt);
      const auto first = std::ranges::lower_bound(influence->samples, index * kChunkSize);
      const auto last = std::lower_bound(first, influence->samples.end(), (index + 1) * kChunkSize);
      if (first == last) continue;
      if (!mixed) mixed = std::make_unique<Mixed>();
      add(zone, *influence, static_cast<size_t>(first - influence->samples.begin()),
          static_cast<size_t>(last - first), below, *mixed);
    }
    return mixed ? colored(*mixed) : nullptr;
  }

  bool markChanges(SurfaceMaps& maps, const LayerSource& before, std::vector<char>& marks) const override {
    const ZoneSet& old = static_cast<const Zones&>(before).set_;
    const bool sameMelt = old.melt == set_.melt;
    const auto markUnmatched = [&](const ZoneSet& these, const ZoneSet& those) {
      for (const HueZone& zone : these.zones)
        if (!sameMelt || std::ranges::find(those.zones, zone) == those.zones.end())
          mark(*influenceOf(maps, zone, these.melt), marks);
    };
    markUnmatched(set_, old);
    markUnmatched(old, set_);
    return true;
  }
  void markContent(SurfaceMaps& maps, std::vector<char>& marks) const override {
    for (const HueZone& zone : set_.zones) mark(*influenceOf(maps, zone, set_.melt), marks);
  }

 private:
  static void mark(const ZoneInfluence& influence, std::vector<char>& marks) {
    for (const uint32_t s : influence.samples) marks[s / kChunkSize] = 1;
  }

  static void add(const HueZone& zone, const ZoneInfluence& influence, size_t first, size_t count,
                  const ColorChunk& below, Mixed& mixed) {
    const Oklab push = fromOklch({0, zone.tint.chroma, zone.tint.hue}),
                plain = toOklab(decode(zone.tint.color));
    for (size_t k = first; k < first + count; ++k) {
      const float w = influence.weights[k] * zone.strength;
      if (!(w > 0)) continue;
      const size_t i = influence.samples[k] % kChunkSize;
      if (mixed.weight[i] == 0)
        mixed.below[i] = toOklab({decodeSrgb16(below.plane[0][i]), decodeSrgb16(below.plane[1][i]),
                                  decodeSrgb16(below.plane[2][i])});
      const Oklab& b = mixed.below[i];
      const Oklab target = zone.tint.plain ? plain : Oklab{b.l, b.a + push.a, b.b + push.b};
      mixed.target[i].l += w * target.l;
      mixed.target[i].a += w * target.a;
      mixed.target[i].b += w * target.b;
      mixed.weight[i] += w;
      mixed.open[i] *= 1 - w;
    }
  }

  static ColorField::Pointer colored(const Mixed& mixed) {
    auto out = std::make_shared<ColorChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) {
      if (mixed.weight[i] == 0) continue;
      const float part = 1 / mixed.weight[i], alpha = 1 - mixed.open[i];
      const Oklab& t = mixed.target[i];
      const LinearColor c = fromOklab({part * t.l, part * t.a, part * t.b});
      const auto channel = [&](float linear) {
        return static_cast<uint16_t>(static_cast<float>(encodeSrgb16(linear)) * alpha + 0.5f);
      };
      setSample(*out, i, {channel(c.r), channel(c.g), channel(c.b), to16(alpha)});
    }
    return out;
  }

  ZoneSet set_;
};

}  // namespace

SourcePointer zoneSource(ZoneSet zones) {
  return std::make_shared<Zones>(std::move(zones));
}

const ZoneSet* zonesOf(const LayerSource& source) {
  const auto* zones = dynamic_cast<const Zones*>(&source);
  return zones ? &zones->set() : nullptr;
}

Result<SourcePointer> readZones(const nlohmann::json& parameters, size_t) {
  auto set = zoneSetFrom(parameters);
  if (!set) return set.error();
  return zoneSource(std::move(*set));
}

}  // namespace juvenor
