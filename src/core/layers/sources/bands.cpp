// Bands: stripes of even distance across the direction of the guides, bent, broken and widened by noise. The
// phase of every sample is worked out once and kept as long as the guides stay; the look is read from it.
#include <array>
#include <cmath>
#include <mutex>

#include "core/color/moved_color.h"
#include "core/growth/stripe_field.h"
#include "core/json_fields.h"
#include "core/layers/sources/pattern_layer.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/registry.h"
#include "core/noise/even_noise.h"

namespace juvenor {
namespace {

constexpr size_t kBandSteps = 256;  // of the ramp from edge to middle
// Of the way from one band to the next: how far noise bends the widest winding one.
constexpr float kBend = 0.55f;

// The phases of all samples, and how fine their bands are.
struct GrownBands {
  StripeField stripes;
  Fineness fineness;

  size_t bytes() const { return bytesHeld(stripes.phases); }
  std::string toKept() const {
    std::string out;
    keepFineness(fineness, out);
    keepArray(std::span(stripes.phases), out);
    return out;
  }
  static std::optional<GrownBands> fromKept(std::string_view bytes, size_t samples) {
    GrownBands out;
    if (!takeFineness(bytes, out.fineness) || !takeArray(bytes, samples, out.stripes.phases))
      return std::nullopt;
    return out;
  }
};

class PreparedBands final : public PreparedPattern {
 public:
  using Stripes = std::shared_ptr<const StripeField>;
  PreparedBands(std::shared_ptr<const Surface> surface, Stripes stripes, const Bands& bands, float reliefStep,
                Words words)
      : PreparedPattern(std::move(words)),
        surface_(std::move(surface)),
        stripes_(std::move(stripes)),
        bands_(bands),
        back_(surface_->turn.transpose()),
        reliefStep_(reliefStep),
        tones_(rampTable(bands.ramp, kBandSteps)),
        noises_(chunkCount(surface_->size())) {}

  ChannelSet channels() const override;
  bool thins() const override { return true; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    auto out = std::make_shared<ColorChunk>();
    eachBand(ask, [&](size_t i, float cover, float middle) {
      const Rgba16& tone = tones_[static_cast<size_t>(middle * (kBandSteps - 1) + 0.5f)];
      for (size_t p = 0; p < 4; ++p)
        out->plane[p][i] = static_cast<uint16_t>(std::lround(cover * static_cast<float>((&tone.r)[p])));
    });
    return out;
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    if (channel != Channel::Gloss) return nullptr;
    auto out = std::make_shared<CoverChunk>();
    eachBand(ask, [&](size_t i, float cover, float) {
      out->plane[0][i] = to16(cover * bands_.glossCover * bands_.gloss);
      out->plane[1][i] = to16(cover * bands_.glossCover);
    });
    return out;
  }
  ScalarField::Pointer heights(Channel, const ChunkAsk& ask) const override {
    auto out = std::make_shared<ScalarChunk>();
    out->plane[0].fill(kLevel);
    eachBand(ask, [&](size_t i, float cover, float middle) {
      out->plane[0][i] = height16(bands_.height * cover * middle, reliefStep_);
    });
    return out;
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    const auto* old = dynamic_cast<const PreparedBands*>(&before);
    return old && old->stripes_ == stripes_ && isSetAs(*old);
  }

 private:
  // What bends bands, makes them uneven and breaks them over a chunk; empty: nothing does.
  struct Noises {
    std::array<std::vector<int16_t>, 3> of;  // 32767 is 1
    float at(size_t which, size_t i) const {
      return of[which].empty() ? 0.f : static_cast<float>(of[which][i]) / 32767;
    }
  };

  // Worked out once for all channels and masks.
  std::shared_ptr<const Noises> noisesOf(size_t chunk) const {
    {
      const std::lock_guard hold(mutex_);
      if (noises_[chunk]) return noises_[chunk];
    }
    const size_t first = chunk * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
    const float grain = bands_.grain * bands_.guides.size.size;
    auto out = std::make_shared<Noises>();
    const std::array<std::pair<float, float>, 3> amounts{
        {{bands_.wavy, grain}, {bands_.uneven, 1.4f * grain}, {bands_.broken, 0.7f * grain}}};
    for (uint32_t n = 0; n < 3; ++n) {
      if (!(amounts[n].first > 0)) continue;
      for (const float v : noiseOver(first, end, amounts[n].second, n + 1))
        out->of[n].push_back(static_cast<int16_t>(std::lround(32767 * std::clamp(v, -1.f, 1.f))));
    }
    const std::lock_guard hold(mutex_);
    return noises_[chunk] = std::move(out);
  }

  // Noise over the samples of a chunk, −1…1.
  std::vector<float> noiseOver(size_t first, size_t end, float size, uint32_t seed) const {
    PlaceRow places(end - first);
    std::vector<float> apart(end - first);
    for (size_t s = first; s < end; ++s) {
      places.set(s - first, back_ * surface_->positions[s]);
      apart[s - first] = std::sqrt(surface_->areas[s]);
    }
    std::vector<float> out = evenNoise(NoiseKind::Cloud, places, size, apart, bands_.seed * 31 + seed);
    for (float& v : out) v = 2 * v - 1;
    return out;
  }

  // Calls `each(i, cover, middle)` where a band lies: how much of it, and how near its middle, 0…1.
  template <class Each>
  void eachBand(const ChunkAsk& ask, Each each) const {
    const size_t first = ask.index * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
    const std::shared_ptr<const Noises> noises = noisesOf(ask.index);
    for (size_t i = 0; i < end - first; ++i) {
      const float shown = ask.mask ? static_cast<float>(ask.mask->plane[0][i]) / 65535.f : 1.f;
      if (!(shown > 0)) continue;
      float turn =
          static_cast<float>(stripes_->phases[first + i]) / 65536 + kBend * bands_.wavy * noises->at(0, i);
      turn -= std::floor(turn);
      // away from the middle of the band, 1 at the middle of the gap
      const float away = 2 * std::abs(turn - 0.5f);
      float half = bands_.width * (1 + bands_.uneven * noises->at(1, i)) * shown;
      if (bands_.broken > 0)
        half *= std::clamp(0.5f + (0.5f * (noises->at(2, i) + 1) - bands_.broken) * 5, 0.f, 1.f);
      if (away >= half) continue;
      const float middle = 1 - away / half;
      const float soft = std::max(bands_.softness, 1e-3f);
      const float t = std::min(1.f, middle / soft), cover = t * t * (3 - 2 * t);
      each(i, cover * std::min(1.f, 2 * shown), middle);
    }
  }

  std::shared_ptr<const Surface> surface_;
  Stripes stripes_;
  Bands bands_;
  Eigen::Matrix3f back_;
  float reliefStep_;
  std::vector<Rgba16> tones_;
  mutable std::mutex mutex_;
  mutable std::vector<std::shared_ptr<const Noises>> noises_;
};

ChannelSet channelsOfBands(const Bands& bands) {
  ChannelSet out = Channel::Color;
  if (bands.glossCover > 0) out |= Channel::Gloss;
  if (bands.height != 0) out |= Channel::Relief;
  return out;
}

ChannelSet PreparedBands::channels() const {
  return channelsOfBands(bands_);
}

class BandLayer final : public PatternLayer {
 public:
  explicit BandLayer(Bands bands) : PatternLayer(bands.guides), bands_(std::move(bands)) {}
  const Bands& bands() const { return bands_; }

  const SourceKind& kind() const override { return kBandsKind; }
  nlohmann::json parameters() const override;
  ChannelSet channels() const override { return channelsOfBands(bands_); }
  const Guides* guides() const override { return &bands_.guides; }
  SourcePointer withGuides(Guides guides) const override {
    Bands out = bands_;
    out.guides = std::move(guides);
    return bandSource(std::move(out));
  }

  Result<PreparedSourcePointer> grown(SurfaceMaps& maps, const Progress& progress) const override {
    const auto bands = maps.grown<GrownBands>(grownKey(), [&] { return bandsOver(maps, progress); });
    if (!bands) return bands.error();
    return PreparedSourcePointer(std::make_shared<PreparedBands>(
        maps.sharedSurface(), PreparedBands::Stripes(*bands, &(*bands)->stripes), bands_, maps.reliefStep(),
        words(noteOf((*bands)->fineness))));
  }

 private:
  std::string growsBy() const override {
    return textOf(toJson(bands_.guides.direction)) + textOf(growthOf(bands_.guides.size));
  }

  Result<GrownBands> bandsOver(SurfaceMaps& maps, const Progress& progress) const {
    const auto directions = directionsOf(maps, bands_.guides.direction, Symmetry::Direction,
                                         [&](float f) { return report(progress, 0.4f * f); });
    if (!directions) return directions.error();
    const auto sizes = sizesOf(maps, bands_.guides.size, progress);
    if (!sizes) return sizes.error();
    auto out = stripeField(maps.surface(), maps.ladder(), **directions, (*sizes)->of, (*sizes)->finest,
                           [&](float f) { return report(progress, 0.4f + 0.6f * f); });
    if (!out) return out.error();
    return GrownBands{std::move(*out), **sizes};
  }

  Bands bands_;
};

nlohmann::json BandLayer::parameters() const {
  const Bands& b = bands_;
  nlohmann::json out{{"stops", toJson(b.ramp)}, {"seed", b.seed}};
  addMembers(out, b);
  addGuides(b.guides, out);
  return out;
}

constexpr Member<Bands> kBandsMembers[] = {
    {{"width", "Width", "How much of the way they take: 100 leaves no gap"},
     [](Bands& s) -> float& { return s.width; }},
    {{"softness", "Softness", "0 a hard edge, 100 fading from the middle on"},
     [](Bands& s) -> float& { return s.softness; }},
    {{"wavy", "Wavy", "0 straight, 100 winding"}, [](Bands& s) -> float& { return s.wavy; }},
    {{"broken", "Broken", "0 whole, 100 gone"}, [](Bands& s) -> float& { return s.broken; }},
    {{"uneven", "Uneven", "0 all as wide, 100 now wide, now hardly there"},
     [](Bands& s) -> float& { return s.uneven; }},
    {{"grain", "Grain", "The size of what bends and breaks them, by how far they lie apart",
      MemberUnit::Plain, 0.2f, 10},
     [](Bands& s) -> float& { return s.grain; }},
    {{"gloss", "Gloss", "How wet bands are"}, [](Bands& s) -> float& { return s.gloss; }},
    {{"gloss-cover", "Gloss covers", "How much of that they bring; 0 leaves the skin's own"},
     [](Bands& s) -> float& { return s.glossCover; }},
    {{"height", "Height", "How far the middle of a band is raised", MemberUnit::Length, -kEndless, kEndless,
      0, 0.01f},
     [](Bands& s) -> float& { return s.height; }},
};

const std::vector<std::string_view> kBandKeys =
    keysWith<Bands>({"direction", "size", "soothed", "stops", "seed"});

Result<SourcePointer> readBands(const nlohmann::json& parameters, size_t) {
  Bands out;
  GivenGuides guides;
  const nlohmann::json* stops = nullptr;
  JsonFields fields(parameters);
  fields.any("direction", guides.direction)
      .any("size", guides.size)
      .list("soothed", guides.soothed)
      .list("stops", stops)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"bands: " + ok.error().what};
  if (const Outcome read = readGuides(guides, out.guides); !read) return Error{"bands: " + read.error().what};
  if (stops) {
    auto read = readColorRamp(*stops);
    if (!read) return Error{"bands: " + read.error().what};
    out.ramp = std::move(*read);
  }
  return bandSource(std::move(out));
}

SourcePointer freshBands(const Surface& surface, const EncodedColor& color) {
  Bands out;
  out.guides = usualGuides(surface.bounds.diagonal());
  out.guides.size.size = 0.04f * surface.bounds.diagonal();
  out.ramp = {{0, movedColor(color, 0.03f, 0, 0), 0.6f, {}}, {1, color, 0.85f, {}}};
  return bandSource(std::move(out));
}

SourcePointer exampleBands(const Surface&) {
  Bands out;
  out.guides.direction.flow = Vec3::UnitX();
  out.guides.direction.form = 1;
  out.guides.size.size = 0.34f;
  return bandSource(std::move(out));
}

constexpr AreaFacts kNarrowerAreas{"Narrow area", "Where they lie closer"};

}  // namespace

template <>
std::span<const Member<Bands>> membersOf() {
  return kBandsMembers;
}

const SourceKind kBandsKind{"bands",
                            "Bands",
                            "Stripes of even distance across the direction: bands, and rings around limbs",
                            Stratum::Pigment,
                            3,
                            kBandKeys,
                            readBands,
                            freshBands,
                            exampleBands,
                            &kNarrowerAreas,
                            "Full distance, from maps",
                            lengthsOf<Bands>(),
                            allMembers<Bands>};

SourcePointer bandSource(Bands bands) {
  return std::make_shared<BandLayer>(std::move(bands));
}

const Bands* bandsOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const BandLayer*>(&source);
  return layer ? &layer->bands() : nullptr;
}

}  // namespace juvenor
