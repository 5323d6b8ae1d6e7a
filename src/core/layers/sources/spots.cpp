// Spots and labyrinths: what two substances leave where they react and spread over the skin, by a handful of
// named looks. The pattern is worked out once, on a coarse skin, and kept as long as guides, look and age
// stay; its edges are drawn anew at the density of the points.
#include <fmt/format.h>

#include <cmath>

#include "core/color/moved_color.h"
#include "core/growth/reaction_diffusion.h"
#include "core/json_fields.h"
#include "core/layers/sources/pattern_layer.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/registry.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr size_t kSpotSteps = 256;              // of the ramp from edge to middle
constexpr int kYoungest = 800, kOldest = 4200;  // steps of time
// In a glimpse: spots stand by then, and only settle from there on.
constexpr int kMostInGlimpse = 1200;

// Found in the map of the model (Pearson 1993); wavelengths measured on flat skin.
constexpr SpotLook kLooks[] = {
    {"spots", "Spots", "Round spots, with room between them", 0.035f, 0.065f, 15},
    {"dapple", "Dapple", "Spots as close as they can lie", 0.030f, 0.062f, 14},
    {"worms", "Worms", "Short lines and dots between each other", 0.046f, 0.063f, 11.4f},
    {"maze", "Maze", "Lines that wind and never cross", 0.029f, 0.057f, 11.2f},
    {"net", "Net", "All covered but for round holes", 0.039f, 0.058f, 14}};

// How much of the pattern stands at each sample, 0…65535 from the least to the most there is.
using Standing = std::vector<uint16_t>;
using StandingPointer = std::shared_ptr<const Standing>;

struct GrownSpots {
  Standing standing;
  Fineness fineness;

  size_t bytes() const { return bytesHeld(standing); }
  std::string toKept() const {
    std::string out;
    keepFineness(fineness, out);
    keepArray(std::span(standing), out);
    return out;
  }
  static std::optional<GrownSpots> fromKept(std::string_view bytes, size_t samples) {
    GrownSpots out;
    if (!takeFineness(bytes, out.fineness) || !takeArray(bytes, samples, out.standing)) return std::nullopt;
    return out;
  }
};

// Stretched so that all but the rarest lie within 0…1.
Standing evened(const std::vector<float>& values, const std::vector<float>& nodes) {
  std::vector<float> sorted = nodes;
  std::ranges::sort(sorted);
  const auto at = [&](double part) {
    return sorted[static_cast<size_t>(part * static_cast<double>(sorted.size() - 1))];
  };
  const float low = at(0.02), high = std::max(at(0.98), low + 1e-6f);
  Standing out(values.size());
  parallel(out.size(),
           [&](size_t s) { out[s] = to16(std::clamp((values[s] - low) / (high - low), 0.f, 1.f)); });
  return out;
}

ChannelSet channelsOfSpots(const Spots& spots) {
  ChannelSet out = Channel::Color;
  if (spots.glossCover > 0) out |= Channel::Gloss;
  if (spots.height != 0) out |= Channel::Relief;
  return out;
}

class PreparedSpots final : public PreparedPattern {
 public:
  PreparedSpots(StandingPointer standing, const Spots& spots, float reliefStep, Words words)
      : PreparedPattern(std::move(words)),
        standing_(std::move(standing)),
        spots_(spots),
        reliefStep_(reliefStep),
        tones_(rampTable(spots.ramp, kSpotSteps)) {}

  ChannelSet channels() const override { return channelsOfSpots(spots_); }
  bool thins() const override { return true; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    auto out = std::make_shared<ColorChunk>();
    eachSpot(ask, [&](size_t i, float cover, float middle) {
      const Rgba16& tone = tones_[static_cast<size_t>(middle * (kSpotSteps - 1) + 0.5f)];
      for (size_t p = 0; p < 4; ++p)
        out->plane[p][i] = static_cast<uint16_t>(std::lround(cover * static_cast<float>((&tone.r)[p])));
    });
    return out;
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    if (channel != Channel::Gloss) return nullptr;
    auto out = std::make_shared<CoverChunk>();
    eachSpot(ask, [&](size_t i, float cover, float) {
      out->plane[0][i] = to16(cover * spots_.glossCover * spots_.gloss);
      out->plane[1][i] = to16(cover * spots_.glossCover);
    });
    return out;
  }
  ScalarField::Pointer heights(Channel, const ChunkAsk& ask) const override {
    auto out = std::make_shared<ScalarChunk>();
    out->plane[0].fill(kLevel);
    eachSpot(ask, [&](size_t i, float cover, float middle) {
      out->plane[0][i] = height16(spots_.height * cover * middle * (2 - middle), reliefStep_);
    });
    return out;
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    const auto* old = dynamic_cast<const PreparedSpots*>(&before);
    return old && old->standing_ == standing_ && isSetAs(*old);
  }

 private:
  // Calls `each(i, cover, middle)` where a spot lies: how much of it, and how near its middle, 0…1.
  template <class Each>
  void eachSpot(const ChunkAsk& ask, Each each) const {
    const size_t first = ask.index * kChunkSize, end = std::min(standing_->size(), first + kChunkSize);
    const float least = 0.9f - 0.8f * spots_.amount;
    for (size_t i = 0; i < end - first; ++i) {
      const float shown = ask.mask ? static_cast<float>(ask.mask->plane[0][i]) / 65535.f : 1.f;
      if (!(shown > 0)) continue;
      // fading skin asks for more than most spots have
      const float edge = least + (1 - least) * (1 - shown);
      const float stands = static_cast<float>((*standing_)[first + i]) / 65535.f;
      if (stands <= edge) continue;
      const float middle = (stands - edge) / std::max(1 - edge, 1e-3f);
      const float t = std::min(1.f, middle / std::max(spots_.softness, 0.02f));
      each(i, t * t * (3 - 2 * t) * std::min(1.f, 2 * shown), middle);
    }
  }

  StandingPointer standing_;
  Spots spots_;
  float reliefStep_;
  std::vector<Rgba16> tones_;
};

class SpotLayer final : public PatternLayer {
 public:
  explicit SpotLayer(Spots spots) : PatternLayer(spots.guides), spots_(std::move(spots)) {}
  const Spots& spots() const { return spots_; }

  const SourceKind& kind() const override { return kSpotsKind; }
  nlohmann::json parameters() const override;
  std::string remark() const override { return spots_.look == "spots" ? std::string() : spots_.look; }
  ChannelSet channels() const override { return channelsOfSpots(spots_); }
  const Guides* guides() const override { return &spots_.guides; }
  SourcePointer withGuides(Guides guides) const override {
    Spots out = spots_;
    out.guides = std::move(guides);
    return spotSource(std::move(out));
  }

  Result<PreparedSourcePointer> grown(SurfaceMaps& maps, const Progress& progress) const override {
    const auto spots = maps.grown<GrownSpots>(grownKey(), [&] { return spotsOver(maps, progress); });
    if (!spots) return spots.error();
    return PreparedSourcePointer(std::make_shared<PreparedSpots>(StandingPointer(*spots, &(*spots)->standing),
                                                                 spots_, maps.reliefStep(),
                                                                 words(noteOf((*spots)->fineness))));
  }

 private:
  ReactionSetting reaction() const {
    const SpotLook& look = *spotLook(spots_.look);
    ReactionSetting out;
    out.feed = look.feed;
    out.kill = look.kill;
    out.wavelength = look.wavelength;
    out.stretch = spots_.stretch;
    out.steps = kYoungest + static_cast<int>(std::lround(spots_.age * (kOldest - kYoungest)));
    out.seed = spots_.seed;
    return out;
  }
  std::string growsBy() const override {
    const ReactionSetting r = reaction();
    std::string out = fmt::format("{} {} {} {} {} {}", r.feed, r.kill, r.stretch, r.steps, r.seed,
                                  textOf(growthOf(spots_.guides.size)));
    // round ones do not ask which way they lie
    if (r.stretch != 1) out += textOf(toJson(spots_.guides.direction));
    return out;
  }

  Result<GrownSpots> spotsOver(SurfaceMaps& maps, const Progress& progress) const {
    ReactionSetting setting = reaction();
    if (maps.cut()) setting.steps = std::min(setting.steps, kMostInGlimpse);
    std::shared_ptr<const std::vector<Vec3>> directions;
    if (setting.stretch != 1) {
      const auto found = directionsOf(maps, spots_.guides.direction, Symmetry::Line,
                                      [&](float f) { return report(progress, 0.1f * f); });
      if (!found) return found.error();
      directions = *found;
    } else {
      directions = std::make_shared<const std::vector<Vec3>>(maps.size(), Vec3::Zero());
    }
    const auto sizes = sizesOf(maps, spots_.guides.size, progress);
    if (!sizes) return sizes.error();
    const ReactionGround ground =
        reactionGround(maps.surface(), maps.ladder(), *directions, (*sizes)->of, (*sizes)->finest);
    Substances substances = sown(ground, setting.seed);
    const Outcome done =
        react(ground, setting, substances, [&](float f) { return report(progress, 0.1f + 0.9f * f); });
    if (!done) return done.error();
    return GrownSpots{evened(spreadOver(maps.surface(), ground, substances.v), substances.v), **sizes};
  }

  Spots spots_;
};

nlohmann::json SpotLayer::parameters() const {
  const Spots& s = spots_;
  nlohmann::json out{{"look", s.look}, {"stops", toJson(s.ramp)}, {"seed", s.seed}};
  addMembers(out, s);
  addGuides(s.guides, out);
  return out;
}

constexpr Member<Spots> kSpotsMembers[] = {
    {{"stretch", "Stretch", "How much longer they are along the direction than across", MemberUnit::Plain,
      0.3f, 3},
     [](Spots& s) -> float& { return s.stretch; }},
    {{"age", "Age", "0 just grown, 100 long settled"}, [](Spots& s) -> float& { return s.age; }},
    {{"amount", "Amount", "How much skin they take"}, [](Spots& s) -> float& { return s.amount; }},
    {{"softness", "Softness", "0 a hard edge, 100 fading from the middle on"},
     [](Spots& s) -> float& { return s.softness; }},
    {{"gloss", "Gloss", "How wet spots are"}, [](Spots& s) -> float& { return s.gloss; }},
    {{"gloss-cover", "Gloss covers", "How much of that they bring; 0 leaves the skin's own"},
     [](Spots& s) -> float& { return s.glossCover; }},
    {{"height", "Height", "How far the middle of a spot is raised", MemberUnit::Length, -kEndless, kEndless,
      0, 0.01f},
     [](Spots& s) -> float& { return s.height; }},
};

const std::vector<std::string_view> kSpotKeys =
    keysWith<Spots>({"direction", "size", "soothed", "look", "stops", "seed"});

Result<SourcePointer> readSpots(const nlohmann::json& parameters, size_t) {
  Spots out;
  GivenGuides guides;
  const nlohmann::json* stops = nullptr;
  JsonFields fields(parameters);
  fields.any("direction", guides.direction)
      .any("size", guides.size)
      .list("soothed", guides.soothed)
      .text("look", out.look)
      .list("stops", stops)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"spots: " + ok.error().what};
  if (!spotLook(out.look)) {
    std::vector<std::string_view> known;
    for (const SpotLook& look : kLooks) known.push_back(look.key);
    return Error{fmt::format("spots: there is no look '{}'{}", out.look, nearestWord(out.look, known))};
  }
  if (const Outcome read = readGuides(guides, out.guides); !read) return Error{"spots: " + read.error().what};
  if (stops) {
    auto read = readColorRamp(*stops);
    if (!read) return Error{"spots: " + read.error().what};
    out.ramp = std::move(*read);
  }
  return spotSource(std::move(out));
}

SourcePointer freshSpots(const Surface& surface, const EncodedColor& color) {
  Spots out;
  out.guides = usualGuides(surface.bounds.diagonal());
  out.guides.size.size = 0.04f * surface.bounds.diagonal();
  out.ramp = {{0, movedColor(color, 0.03f, 0, 0), 0.7f, {}}, {1, color, 0.9f, {}}};
  return spotSource(std::move(out));
}

SourcePointer exampleSpots(const Surface&) {
  Spots out;
  out.guides.size.size = 0.26f;
  out.look = "dapple";
  return spotSource(std::move(out));
}

constexpr AreaFacts kCloserAreas{"Close area", "Where they are smaller and closer"};

}  // namespace

template <>
std::span<const Member<Spots>> membersOf() {
  return kSpotsMembers;
}

const SourceKind kSpotsKind{"spots",
                            "Spots",
                            "Spots, worms, mazes and nets as skin grows them by itself",
                            Stratum::Pigment,
                            3,
                            kSpotKeys,
                            readSpots,
                            freshSpots,
                            exampleSpots,
                            &kCloserAreas,
                            "Full size, from maps",
                            lengthsOf<Spots>(),
                            allMembers<Spots>};

std::span<const SpotLook> spotLooks() {
  return kLooks;
}

const SpotLook* spotLook(std::string_view key) {
  const auto found = std::ranges::find(kLooks, key, &SpotLook::key);
  return found == std::end(kLooks) ? nullptr : &*found;
}

SourcePointer spotSource(Spots spots) {
  return std::make_shared<SpotLayer>(std::move(spots));
}

const Spots* spotsOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const SpotLayer*>(&source);
  return layer ? &layer->spots() : nullptr;
}

}  // namespace juvenor
