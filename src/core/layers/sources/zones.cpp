// Hue zones as the content of a layer. Each names a target for the colour below: the same lightness pushed
// toward a hue in Oklab, or a plain colour.
#include "core/layers/sources/zones.h"

#include <fmt/format.h>

#include "core/layers/sources/registry.h"
#include "core/layers/zones/zone_mix.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

class PreparedZones final : public PreparedSource {
 public:
  PreparedZones(ZoneSet set, std::vector<ZoneInfluencePointer> influences)
      : set_(std::move(set)), influences_(std::move(influences)) {}

  bool readsBelow() const override { return true; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk& below) const override {
    const size_t index = ask.index;
    std::unique_ptr<ZoneMix> mix;
    for (size_t z = 0; z < influences_.size(); ++z) {
      const ZoneInfluence& influence = *influences_[z];
      const auto first = std::ranges::lower_bound(influence.samples, index * kChunkSize);
      const auto last = std::lower_bound(first, influence.samples.end(), (index + 1) * kChunkSize);
      if (first == last) continue;
      if (!mix) mix = std::make_unique<ZoneMix>();
      addZone(*mix, set_.zones[z].tint, set_.zones[z].strength, {first, last},
              std::span(influence.values)
                  .subspan(static_cast<size_t>(first - influence.samples.begin()),
                           static_cast<size_t>(last - first)));
    }
    if (!mix) return nullptr;
    auto out = std::make_shared<ColorChunk>();
    mixedColors(*mix, below, *out);
    return out;
  }

  bool markChanges(Channel, const PreparedSource& before, std::vector<char>& marks) const override {
    const auto& old = static_cast<const PreparedZones&>(before);
    markUnmatched(old, marks);
    old.markUnmatched(*this, marks);
    return true;
  }
  void markContent(Channel, std::vector<char>& marks) const override {
    for (const ZoneInfluencePointer& influence : influences_) mark(*influence, marks);
  }

 private:
  // Marks what zones cover that the other set does not have just so.
  void markUnmatched(const PreparedZones& other, std::vector<char>& marks) const {
    for (size_t z = 0; z < influences_.size(); ++z)
      if (set_.melt != other.set_.melt ||
          std::ranges::find(other.set_.zones, set_.zones[z]) == other.set_.zones.end())
        mark(*influences_[z], marks);
  }
  static void mark(const ZoneInfluence& influence, std::vector<char>& marks) {
    for (const uint32_t s : influence.samples) marks[s / kChunkSize] = 1;
  }

  ZoneSet set_;
  std::vector<ZoneInfluencePointer> influences_;
};

class Zones final : public LayerSource {
 public:
  explicit Zones(ZoneSet set) : set_(std::move(set)) {}

  const SourceKind& kind() const override { return kZonesKind; }
  nlohmann::json parameters() const override { return toJson(set_); }
  const ZoneSet* zones() const override { return &set_; }
  SourcePointer withZones(ZoneSet set) const override { return zoneSource(std::move(set)); }
  SourcePointer refined(const Refined&) const override { return zoneSource(set_); }
  std::string remark() const override {
    return fmt::format("{} zone{}", set_.zones.size(), set_.zones.size() == 1 ? "" : "s");
  }
  bool isReady(SurfaceMaps& maps) const override { return set_.zones.empty() || maps.hasLadder(); }

  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    // what large and melted zones stand on is there before one is dragged
    if (!set_.zones.empty()) (void)maps.ladder();
    if (!report(progress, 0.5f)) return cancelledError();
    std::vector<ZoneInfluencePointer> influences(set_.zones.size());
    parallelEach(set_.zones.size(),
                 [&](size_t z) { influences[z] = influenceOf(maps, set_.zones[z], set_.melt); });
    if (!report(progress, 1.f)) return cancelledError();
    return PreparedSourcePointer(std::make_shared<PreparedZones>(set_, std::move(influences)));
  }

 private:
  ZoneSet set_;
};

const std::vector<std::string_view> kZonesKeys{"zones", "melt"};

Result<SourcePointer> readZones(const nlohmann::json& parameters, size_t) {
  auto set = zoneSetFrom(parameters);
  if (!set) return set.error();
  return zoneSource(std::move(*set));
}

SourcePointer freshZones(const Surface&, const EncodedColor&) {
  return zoneSource({});
}

SourcePointer exampleZones(const Surface&) {
  HueZone blood;
  blood.anchor = {-0.4f, 0, 0};
  blood.mirrored = false;
  blood.reach = 0.55f;
  blood.strength = 0.9f;
  blood.grain = 0.1f;
  blood.tint.chroma = 0.09f;
  HueZone bone = blood;
  bone.anchor = {0.5f, 0.05f, 0};
  bone.tint.hue = 85;
  bone.tint.chroma = 0.08f;
  return zoneSource({{blood, bone}, 0});
}

const std::vector<std::string_view> kZonesLengths{"melt"};

}  // namespace

constexpr AreaFacts kHueZones{"Zone", "Hue zones", true};

const SourceKind kZonesKind{
    "zones",        "Hue zones", "Areas of blood, bone and fat that tint what lies below",
    Stratum::Flesh, 1,           kZonesKeys,
    readZones,      freshZones,  exampleZones,
    &kHueZones,     {},          kZonesLengths};

SourcePointer zoneSource(ZoneSet zones) {
  return std::make_shared<Zones>(std::move(zones));
}

}  // namespace juvenor
