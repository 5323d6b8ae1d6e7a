// Each zone names a target for the colour below: the same lightness pushed toward a hue in Oklab, or a plain
// colour.
#include "core/layers/sources/zones.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/layers/zone_mix.h"

namespace juvenor {
namespace {

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
    std::unique_ptr<ZoneMix> mix;
    for (const HueZone& zone : set_.zones) {
      const ZoneInfluencePointer influence = influenceOf(maps, zone, set_.melt);
      const auto first = std::ranges::lower_bound(influence->samples, index * kChunkSize);
      const auto last = std::lower_bound(first, influence->samples.end(), (index + 1) * kChunkSize);
      if (first == last) continue;
      if (!mix) mix = std::make_unique<ZoneMix>();
      addZone(*mix, zone.tint, zone.strength, {first, last},
              std::span(influence->values)
                  .subspan(static_cast<size_t>(first - influence->samples.begin()),
                           static_cast<size_t>(last - first)));
    }
    if (!mix) return nullptr;
    auto out = std::make_shared<ColorChunk>();
    mixedColors(*mix, below, *out);
    return out;
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
