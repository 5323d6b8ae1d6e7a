// Bands: stripes of even distance across the direction of the guides, bent, broken and widened by noise. The
// phase of every sample is worked out once and kept as long as the guides stay; the look is read from it.
#include <cmath>

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

  size_t bytes() const { return 2 * stripes.phases.size(); }
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
        tones_(rampTable(bands.ramp, kBandSteps)) {}

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
    const float grain = bands_.grain * bands_.guides.size.size;
    const auto noise = [&](float amount, float size, uint32_t seed) {
      return amount > 0 ? noiseOver(first, end, size, seed) : std::vector<float>(end - first, 0.f);
    };
    const std::vector<float> bend = noise(bands_.wavy, grain, 1),
                             wide = noise(bands_.uneven, 1.4f * grain, 2),
                             gaps = noise(bands_.broken, 0.7f * grain, 3);
    for (size_t i = 0; i < end - first; ++i) {
      const float shown = ask.mask ? static_cast<float>(ask.mask->plane[0][i]) / 65535.f : 1.f;
      if (!(shown > 0)) continue;
      float turn = static_cast<float>(stripes_->phases[first + i]) / 65536 + kBend * bands_.wavy * bend[i];
      turn -= std::floor(turn);
      // away from the middle of the band, 1 at the middle of the gap
      const float away = 2 * std::abs(turn - 0.5f);
      float half = bands_.width * (1 + bands_.uneven * wide[i]) * shown;
      if (bands_.broken > 0) half *= std::clamp(0.5f + (0.5f * (gaps[i] + 1) - bands_.broken) * 5, 0.f, 1.f);
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
    return textOf(toJson(bands_.guides.direction)) + textOf(toJson(bands_.guides.size));
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
  nlohmann::json out{{"width", b.width},        {"softness", b.softness}, {"wavy", b.wavy},
                     {"broken", b.broken},      {"uneven", b.uneven},     {"grain", b.grain},
                     {"stops", toJson(b.ramp)}, {"gloss", b.gloss},       {"gloss-cover", b.glossCover},
                     {"height", b.height},      {"seed", b.seed}};
  addGuides(b.guides, out);
  return out;
}

constexpr std::string_view kBandKeys[] = {"direction", "size",        "soothed", "width", "softness",
                                          "wavy",      "broken",      "uneven",  "grain", "stops",
                                          "gloss",     "gloss-cover", "height",  "seed"};

Result<SourcePointer> readBands(const nlohmann::json& parameters, size_t) {
  Bands out;
  GivenGuides guides;
  const nlohmann::json* stops = nullptr;
  const Outcome ok = JsonFields(parameters)
                         .any("direction", guides.direction)
                         .any("size", guides.size)
                         .list("soothed", guides.soothed)
                         .number("width", out.width, 0, 1)
                         .number("softness", out.softness, 0, 1)
                         .number("wavy", out.wavy, 0, 1)
                         .number("broken", out.broken, 0, 1)
                         .number("uneven", out.uneven, 0, 1)
                         .number("grain", out.grain, 0.2f, 10)
                         .list("stops", stops)
                         .number("gloss", out.gloss, 0, 1)
                         .number("gloss-cover", out.glossCover, 0, 1)
                         .number("height", out.height, -1e9f, 1e9f)
                         .whole("seed", out.seed)
                         .done();
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

constexpr std::string_view kBandsLengths[] = {"height"};

}  // namespace

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
                            kBandsLengths};

SourcePointer bandSource(Bands bands) {
  return std::make_shared<BandLayer>(std::move(bands));
}

const Bands* bandsOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const BandLayer*>(&source);
  return layer ? &layer->bands() : nullptr;
}

}  // namespace juvenor
