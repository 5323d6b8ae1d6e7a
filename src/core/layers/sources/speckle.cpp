// Freckles, moles and spots: blue-noise seeds on the skin (cf. Corsini, Cignoni, Scopigno 2012), as many as
// the density of their place wants, each with its own size, outline, tone and strength. The seeds stay when
// density, sizes or tones change, so that a slider thins them out and never throws them anew.
#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "core/color/color_json.h"
#include "core/color/moved_color.h"
#include "core/growth/skin_seeds.h"
#include "core/layers/places.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/prepared_marking.h"
#include "core/layers/sources/registry.h"
#include "core/noise/noise.h"
#include "core/seeded.h"
#include "core/surface/falloff.h"

namespace juvenor {
namespace {

constexpr float kPi = std::numbers::pi_v<float>;
constexpr float kTorn = 0.75f;  // of the radius, at ragged 1
// The cosine beyond which skin has turned away from a spot: the other lip, the far side of a fin.
constexpr float kTurned = 0.2f;
// Of the skin that spots can take; more would be skin with spots of the other colour.
constexpr float kMostCover = 0.6f;

struct Spot {
  Vec3 center, normal;
  float radius;    // as it is drawn: with a softer edge it is larger, over the same area
  float hardness;  // 0…1
  float ragged;    // of the radius
  float strength;  // 0…1
  float height;    // scene units
  EncodedColor color;
  uint32_t part;
  uint32_t key;
};

ChunkBins::Ball ballOf(const Spot& spot) {
  return {spot.center, spot.radius * (1 + spot.ragged)};
}

float radiusOf(const Speckle& s, float draw) {
  const float low = std::max(1e-9f, std::min(s.smallest, s.largest)), high = std::max(low, s.largest);
  return 0.5f * low * std::pow(high / low, std::pow(draw, std::exp2(2.5f - 5 * s.mix)));
}

// Of a disc.
float meanArea(const Speckle& s) {
  constexpr int kDraws = 256;
  float sum = 0;
  for (int i = 0; i < kDraws; ++i) {
    const float r = radiusOf(s, (static_cast<float>(i) + 0.5f) / kDraws);
    sum += kPi * r * r;
  }
  return sum / kDraws;
}

// The distance of seeds: enough for the most cover there may be, in steps of two, so that more or fewer spots
// are the same ones and a slider of sizes seldom finds others.
float distanceFor(const Speckle& speckle) {
  return std::exp2(std::floor(std::log2(seedDistance(kMostCover / meanArea(speckle)))));
}

// Where samples cannot tell spots apart there are fewer, and each stands for several.
float leastApart(const Surface& surface) {
  return 1.5f * surface.spacing;
}

class PreparedSpeckle final : public PreparedMarking {
 public:
  PreparedSpeckle(std::shared_ptr<const Surface> surface, std::vector<Spot> spots, ChunkBins bins,
                  std::vector<uint64_t> signatures, ChannelSet channels, float reliefStep)
      : PreparedMarking(channels, std::move(signatures)),
        surface_(std::move(surface)),
        back_(surface_->turn.transpose()),
        spots_(std::move(spots)),
        bins_(std::move(bins)),
        reliefStep_(reliefStep) {}

 private:
  struct Sum {
    std::array<float, 4> color{};  // premultiplied
    float height = 0;
  };

  Worked worked(size_t index) const override {
    std::vector<Sum> sums(kChunkSize);
    bool raised = false;
    for (const uint32_t i : bins_.of(index)) {
      lay(index, spots_[i], sums);
      raised |= spots_[i].height != 0;
    }
    auto color = std::make_shared<ColorChunk>();
    for (size_t p = 0; p < 4; ++p)
      for (size_t i = 0; i < kChunkSize; ++i) color->plane[p][i] = to16(sums[i].color[p]);
    Worked out{.color = std::move(color)};
    if (raised) {
      auto relief = std::make_shared<ScalarChunk>();
      for (size_t i = 0; i < kChunkSize; ++i) relief->plane[0][i] = height16(sums[i].height, reliefStep_);
      out.relief = std::move(relief);
    }
    return out;
  }

  void lay(size_t index, const Spot& spot, std::vector<Sum>& sums) const {
    const ChunkBins::Ball ball = ballOf(spot);
    eachSampleNear(*surface_, index, ball, [&](uint32_t s) {
      const Vec3 away = surface_->positions[s] - spot.center;
      const float far2 = away.squaredNorm();
      if (far2 >= ball.radius * ball.radius || spot.part != surface_->parts[s] ||
          spot.normal.dot(surface_->normals[s]) <= kTurned)
        return;
      const float weight = weightAt(spot, away, std::sqrt(far2));
      if (!(weight > 0)) return;
      Sum& sum = sums[s - index * kChunkSize];
      const float alpha = weight * spot.strength;
      for (size_t p = 0; p < 3; ++p) sum.color[p] += alpha * ((&spot.color.r)[p] - sum.color[p]);
      sum.color[3] += alpha * (1 - sum.color[3]);
      sum.height = std::abs(spot.height * weight) > std::abs(sum.height) ? spot.height * weight : sum.height;
    });
  }

  float weightAt(const Spot& spot, const Vec3& away, float distance) const {
    float radius = spot.radius;
    if (spot.ragged > 0) {
      // outlines lie on the skin whichever way the sculpt stands
      const Vec3 place = 1.4f / spot.radius * (back_ * away);
      radius *= 1 + spot.ragged * std::clamp(1.2f * fractal(place, 2, spot.key), -1.f, 1.f);
    }
    return falloff(distance / radius, spot.hardness);
  }

  std::shared_ptr<const Surface> surface_;
  Eigen::Matrix3f back_;
  std::vector<Spot> spots_;
  ChunkBins bins_;
  float reliefStep_;
};

class SpeckleLayer final : public LayerSource {
 public:
  explicit SpeckleLayer(Speckle speckle)
      : speckle_(std::move(speckle)),
        density_(std::clamp(speckle_.cover, 0.f, kMostCover) / meanArea(speckle_)) {}
  const Speckle& speckle() const { return speckle_; }

  const SourceKind& kind() const override { return kSpeckleKind; }
  nlohmann::json parameters() const override;
  ChannelSet channels() const override {
    return speckle_.raised > 0 && speckle_.height != 0 ? ChannelSet(Channel::Color) | Channel::Relief
                                                       : ChannelSet(Channel::Color);
  }
  const ZoneSet* zones() const override { return &zones_; }
  SourcePointer withZones(ZoneSet set) const override {
    Speckle out = speckle_;
    out.gather = std::move(set.zones);
    return speckleSource(std::move(out));
  }
  const MaskTerms* terms() const override { return &speckle_.density; }
  SourcePointer withTerms(MaskTerms terms) const override {
    Speckle out = speckle_;
    out.density = std::move(terms);
    return speckleSource(std::move(out));
  }
  SourcePointer refined(const Refined&) const override { return speckleSource(speckle_); }
  bool isReady(SurfaceMaps& maps) const override {
    return hasSkinSeeds(maps, distanceFor(speckle_), speckle_.seed, nearestFor(maps)) &&
           isMaskReady(maps, speckle_.density) && (zones_.zones.empty() || maps.hasLadder());
  }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(speckle_.density); }

  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    const auto seeds = skinSeeds(
        maps, distanceFor(speckle_), speckle_.seed, [&](float f) { return report(progress, 0.8f * f); },
        nearestFor(maps));
    if (!seeds) return seeds.error();
    const auto wanted = densityOver(maps, progress);
    if (!wanted) return wanted.error();
    return made(maps, spotsOf(maps.surface(), **seeds, *wanted));
  }

 private:
  // How near seeds have to lie for the spots that are asked for: the rest of them need not be thrown. Where
  // more are there already those serve; the first of them are the same ones.
  float nearestFor(SurfaceMaps& maps) const {
    // rounds of throwing do not fill the skin just alike
    constexpr float kMargin = 1.25f;
    const float distance = distanceFor(speckle_), finest = leastApart(maps.surface());
    const float wanted = seedDistance(kMargin * std::max(density_, 1e-3f * kMostCover / meanArea(speckle_)));
    const float needed = std::max(finest, wanted / std::numbers::sqrt2_v<float>);
    for (float nearest = std::max(finest, distance); nearest < needed;
         nearest *= std::numbers::sqrt2_v<float>)
      if (hasSkinSeeds(maps, distance, speckle_.seed, nearest)) return nearest;
    return needed;
  }

  // 0…1 at samples: from the maps, and from the areas where they gather.
  struct Wanted {
    std::shared_ptr<const ScalarField> maps;
    std::vector<float> gathered;
    float everywhere;
    float at(uint32_t sample) const {
      float d = everywhere * (maps ? static_cast<float>(maps->at(sample)[0]) / 65535.f : 1.f);
      if (!gathered.empty()) d += (1 - d) * gathered[sample];
      return d;
    }
  };

  Result<Wanted> densityOver(SurfaceMaps& maps, const Progress& progress) const {
    Wanted out{nullptr, {}, speckle_.everywhere};
    if (!speckle_.density.empty()) {
      auto mask = maskOf(maps, speckle_.density, progress);
      if (!mask) return mask.error();
      out.maps = *mask;
    }
    if (zones_.zones.empty()) return out;
    out.gathered.assign(maps.size(), 0);
    for (const HueZone& zone : zones_.zones) {
      const ZoneInfluencePointer influence = influenceOf(maps, zone, 0);
      for (size_t i = 0; i < influence->samples.size(); ++i) {
        float& g = out.gathered[influence->samples[i]];
        g += (1 - g) * std::min(1.f, zone.strength * influence->values[i]);
      }
    }
    return out;
  }

  std::vector<Spot> spotsOf(const Surface& surface, const SkinSeeds& seeds, const Wanted& wanted) const {
    std::vector<Spot> out;
    if (!(speckle_.cover > 0)) return out;
    const float share = density_ / seeds.density;
    for (const SkinSeed& seed : seeds.seeds) {
      if (seed.rank >= share) break;
      if (seed.rank >= std::min(share, seeds.upTo) * wanted.at(seed.sample)) continue;
      out.push_back(spotAt(surface, seed, std::max(1.f, share / seeds.upTo)));
    }
    return out;
  }

  // `crowd`: how many it stands for.
  Spot spotAt(const Surface& surface, const SkinSeed& seed, float crowd) const {
    Draws draws(seed.key, 1);
    const float radius = radiusOf(speckle_, draws.unit());
    const float strength = 1 - speckle_.fade * draws.unit();
    const float l = draws.around(), c = draws.around(), h = draws.around();
    const bool raised = draws.unit() < speckle_.raised;
    const float large = 2 * radius / std::max({1e-9f, speckle_.largest, speckle_.smallest});
    const ColorVariety& v = speckle_.variety;
    Spot out;
    out.center = seed.position;
    out.normal = seed.normal;
    out.strength = strength;
    shape(out, radius, std::sqrt(surface.areas[seed.sample]), crowd);
    out.height = raised ? speckle_.height * large : 0;
    out.color = movedColor(speckle_.color, l * v.lightness, c * v.chroma, h * v.hue);
    out.part = surface.parts[seed.sample];
    out.key = seed.key;
    return out;
  }

  // Edges are as soft as samples `apart` need, over the same area; a spot finer than they show is a faint one
  // of the least size.
  void shape(Spot& spot, float radius, float apart, float crowd) const {
    const float sharp = 1 - speckle_.softness, least = 0.6f * apart;
    const float shown = std::max(radius, least);
    spot.hardness = std::min(sharp, std::max(0.f, 1 - least / shown));
    spot.radius = shown * std::sqrt(meanFalloff(sharp) / meanFalloff(spot.hardness));
    spot.ragged = radius > least ? kTorn * speckle_.ragged : 0;
    spot.strength = std::min(1.f, spot.strength * crowd * (radius / shown) * (radius / shown));
  }

  Result<PreparedSourcePointer> made(SurfaceMaps& maps, std::vector<Spot> spots) const {
    const Surface& surface = maps.surface();
    std::vector<ChunkBins::Ball> balls;
    for (const Spot& s : spots) balls.push_back(ballOf(s));
    ChunkBins bins(surface, balls);
    std::vector<uint64_t> signatures(chunkCount(surface.size()), 0);
    for (size_t c = 0; c < signatures.size(); ++c) {
      uint64_t& signature = signatures[c];
      for (const uint32_t i : bins.of(c)) {
        const Spot& s = spots[i];
        for (const float f :
             {s.radius, s.hardness, s.ragged, s.strength, s.height, s.color.r, s.color.g, s.color.b})
          sign(signature, f);
        sign(signature, s.key);
        sign(signature, s.center);
      }
      if (!bins.of(c).empty()) signature |= 1;
    }
    return PreparedSourcePointer(std::make_shared<PreparedSpeckle>(maps.sharedSurface(), std::move(spots),
                                                                   std::move(bins), std::move(signatures),
                                                                   channels(), maps.reliefStep()));
  }

  Speckle speckle_;
  ZoneSet zones_{speckle_.gather, 0};
  float density_;  // spots on a square scene unit
};

nlohmann::json SpeckleLayer::parameters() const {
  const Speckle& s = speckle_;
  nlohmann::json out{{"color", toJson(s.color)},
                     {"maps", toJson(s.density)},
                     {"zones", toJson(zones_)["zones"]},
                     {"seed", s.seed}};
  addMembers(out, s);
  return out;
}

constexpr Member<Speckle> kSpeckleMembers[] = {
    {{"cover", "Cover", "The part of the skin spots take where they are densest", MemberUnit::Part, 0, 1, 0,
      0.6f},
     [](Speckle& s) -> float& { return s.cover; }},
    {{"everywhere", "Everywhere", "How dense they are away from the areas where they gather"},
     [](Speckle& s) -> float& { return s.everywhere; }},
    {{"smallest", "Smallest", "How wide the smallest spots are", MemberUnit::Length, kLeastLength, kEndless,
      0.0005f, 0.06f},
     [](Speckle& s) -> float& { return s.smallest; }},
    {{"largest", "Largest", "How wide the largest spots are", MemberUnit::Length, kLeastLength, kEndless,
      0.0005f, 0.06f},
     [](Speckle& s) -> float& { return s.largest; }},
    {{"mix", "Small to large", "0 nearly all small, 100 nearly all large"},
     [](Speckle& s) -> float& { return s.mix; }},
    {{"ragged", "Ragged", "0 round, 100 torn"}, [](Speckle& s) -> float& { return s.ragged; }},
    {{"softness", "Softness", "0 a hard edge, 100 fading from the middle on"},
     [](Speckle& s) -> float& { return s.softness; }},
    {{"fade", "Faint ones", "0 all as strong, 100 some hardly there"},
     [](Speckle& s) -> float& { return s.fade; }},
    {{"lightness", "Lightness varies", "How far spots are lighter and darker than their colour",
      MemberUnit::Part, 0, 1, 0, 0.3f},
     [](Speckle& s) -> float& { return s.variety.lightness; }},
    {{"chroma", "Chroma varies", "How far they are fuller and paler than their colour"},
     [](Speckle& s) -> float& { return s.variety.chroma; }},
    {{"hue", "Hue varies", "How far their hues lie apart, either way", MemberUnit::Degrees, 0, 180, 0, 60},
     [](Speckle& s) -> float& { return s.variety.hue; }},
    {{"raised", "Raised ones", "How many of them stand out, like moles"},
     [](Speckle& s) -> float& { return s.raised; }},
    {{"height", "Height", "How far the largest of those stand out", MemberUnit::Length, -kEndless, kEndless,
      0, 0.004f},
     [](Speckle& s) -> float& { return s.height; }},
};

const std::vector<std::string_view> kSpeckleKeys = keysWith<Speckle>({"color", "maps", "zones", "seed"});

Result<SourcePointer> readSpeckle(const nlohmann::json& parameters, size_t) {
  Speckle out;
  const nlohmann::json *maps = nullptr, *zones = nullptr;
  JsonFields fields(parameters);
  fields.value("color", out.color, kJsonColor)
      .list("maps", maps)
      .list("zones", zones)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"a speckle " + ok.error().what};
  if (const Outcome read = readPlaces(maps, zones, out.density, out.gather); !read)
    return Error{"a speckle: " + read.error().what};
  return speckleSource(std::move(out));
}

SourcePointer freshSpeckle(const Surface& surface, const EncodedColor& color) {
  const float d = surface.bounds.diagonal();
  Speckle out;
  out.color = color;
  out.smallest = 0.003f * d;
  out.largest = 0.008f * d;
  out.height = 0.0005f * d;
  return speckleSource(std::move(out));
}

SourcePointer exampleSpeckle(const Surface&) {
  Speckle out;
  out.color = {0.42f, 0.24f, 0.16f};
  out.smallest = 0.05f;
  out.largest = 0.16f;
  out.cover = 0.16f;
  return speckleSource(std::move(out));
}

}  // namespace

constexpr AreaFacts kGatherings{"Gathering", "Where more gather"};

template <>
std::span<const Member<Speckle>> membersOf() {
  return kSpeckleMembers;
}

const SourceKind kSpeckleKind{"speckle",
                              "Speckle",
                              "Freckles, moles and spots, denser where maps and areas say",
                              Stratum::Pigment,
                              2,
                              kSpeckleKeys,
                              readSpeckle,
                              freshSpeckle,
                              exampleSpeckle,
                              &kGatherings,
                              "How dense, from maps",
                              lengthsOf<Speckle>(),
                              allMembers<Speckle>};

SourcePointer speckleSource(Speckle speckle) {
  return std::make_shared<SpeckleLayer>(std::move(speckle));
}

const Speckle* speckleOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const SpeckleLayer*>(&source);
  return layer ? &layer->speckle() : nullptr;
}

}  // namespace juvenor
