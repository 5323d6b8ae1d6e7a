// Cloudy variation of two to four tones at two scales. The clouds are noise in space; the curvature of the
// skin is added to it, so that their contours bend along ridges and creases as blood and fat do (after the
// way isolines of a sum follow its steeper part). Marbling folds the noise into a net of streaks over places
// that are stirred first (Perlin's turbulence).
#include "core/color/color_json.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/prepared_marking.h"
#include "core/layers/sources/registry.h"
#include "core/noise/even_noise.h"

namespace juvenor {
namespace {

constexpr size_t kToneSteps = 1024;

// The tones one after the other, each on a share as large; softness says how much of a share they flow over.
std::vector<Rgba16> tableOf(const Mottle& m) {
  RampStops stops;
  const auto count = static_cast<float>(m.tones.size());
  for (size_t i = 0; i < m.tones.size(); ++i) {
    const float half = 0.5f * (1 - m.softness), middle = static_cast<float>(i) + 0.5f;
    for (const float at : {middle - half, middle + half})
      stops.push_back({std::clamp(at / count, 0.f, 1.f), m.tones[i].color, m.tones[i].alpha, {}});
  }
  return rampTable(stops, kToneSteps);
}

class PreparedMottle final : public PreparedMarking {
 public:
  PreparedMottle(std::shared_ptr<const Surface> surface, const Mottle& mottle, MapPointer curvature,
                 uint64_t signature)
      : PreparedMarking(Channel::Color, std::vector<uint64_t>(chunkCount(surface->size()), signature)),
        surface_(std::move(surface)),
        mottle_(mottle),
        table_(tableOf(mottle)),
        curvature_(std::move(curvature)),
        back_(surface_->turn.transpose()) {}

 private:
  // The samples of a chunk.
  struct Ground {
    size_t first, end;
    PlaceRow places;
    std::vector<float> apart;
  };

  Worked worked(size_t index) const override {
    const std::vector<float> values = valuesOver(groundOf(index));
    auto out = std::make_shared<ScalarChunk>();
    for (size_t i = 0; i < values.size(); ++i)
      out->plane[0][i] = static_cast<uint16_t>(std::clamp(values[i], 0.f, 1.f) * (kToneSteps - 1) + 0.5f);
    return {.values = std::move(out)};
  }

  ColorField::Pointer colored(const ScalarChunk& values) const override {
    auto out = std::make_shared<ColorChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) setSample(*out, i, table_[values.plane[0][i]]);
    return out;
  }

  Ground groundOf(size_t index) const {
    const size_t first = index * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
    Ground out{first, end, PlaceRow(end - first), std::vector<float>(end - first)};
    for (size_t s = first; s < end; ++s) {
      out.places.set(s - first, back_ * surface_->positions[s]);
      out.apart[s - first] = std::sqrt(surface_->areas[s]);
    }
    if (mottle_.marbling > 0) stir(out.places);
    return out;
  }

  void stir(PlaceRow& places) const {
    constexpr std::array<uint32_t, 3> kSeeds{3, 5, 11};
    std::array<std::vector<float>, 3> moved;
    for (size_t k = 0; k < 3; ++k)
      moved[k] = perlinRow(places, 1.5f * mottle_.size, mottle_.seed + kSeeds[k]);
    for (size_t k = 0; k < 3; ++k)
      for (size_t i = 0; i < places.size(); ++i)
        places.along[k][i] += 0.6f * mottle_.marbling * mottle_.size * moved[k][i];
  }

  // About 0…1, nearly as common everywhere.
  std::vector<float> valuesOver(const Ground& ground) const {
    std::vector<float> out = noise(ground, mottle_.size, mottle_.seed);
    if (mottle_.balance > 0) {
      const std::vector<float> small = noise(ground, mottle_.fine, mottle_.seed + 7919u);
      // two even spreads mixed are narrower than one; what is lost is given back
      const float a = 1 - mottle_.balance, b = mottle_.balance, wide = 1 / std::sqrt(a * a + b * b);
      for (size_t i = 0; i < out.size(); ++i)
        out[i] = 0.5f + ((out[i] - 0.5f) * a + (small[i] - 0.5f) * b) * wide;
    }
    if (curvature_)
      for (size_t i = 0; i < out.size(); ++i)
        out[i] +=
            mottle_.bend * (static_cast<float>((*curvature_)[ground.first + i]) / 65535.f - 0.5f) * 1.6f;
    return out;
  }

  std::vector<float> noise(const Ground& ground, float size, uint32_t seed) const {
    std::vector<float> out = evenNoise(NoiseKind::Cloud, ground.places, size, ground.apart, seed);
    if (!(mottle_.marbling > 0)) return out;
    const std::vector<float> net =
        evenNoise(NoiseKind::Ridged, ground.places, size, ground.apart, seed + 31u);
    for (size_t i = 0; i < out.size(); ++i) out[i] += mottle_.marbling * (net[i] - out[i]);
    return out;
  }

  std::shared_ptr<const Surface> surface_;
  Mottle mottle_;
  std::vector<Rgba16> table_;
  MapPointer curvature_;  // null: it bends nothing
  Eigen::Matrix3f back_;
};

class MottleLayer final : public LayerSource {
 public:
  explicit MottleLayer(Mottle mottle) : mottle_(std::move(mottle)) {}
  const Mottle& mottle() const { return mottle_; }

  const SourceKind& kind() const override { return kMottleKind; }
  nlohmann::json parameters() const override {
    nlohmann::json tones = nlohmann::json::array();
    for (const Mottle::Tone& t : mottle_.tones)
      tones.push_back({{"color", toJson(t.color)}, {"alpha", t.alpha}});
    nlohmann::json out{{"tones", tones}, {"seed", mottle_.seed}};
    addMembers(out, mottle_);
    return out;
  }
  SourcePointer refined(const Refined&) const override { return mottleSource(mottle_); }
  bool isReady(SurfaceMaps& maps) const override { return !bends() || maps.known(curvature()) != nullptr; }
  std::vector<MapSetting> mapsNeeded() const override {
    return bends() ? std::vector{curvature()} : std::vector<MapSetting>{};
  }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    MapPointer curvature;
    if (bends()) {
      auto map = maps.map(this->curvature(), progress);
      if (!map) return map.error();
      curvature = *map;
    }
    uint64_t signature = 1;
    sign(signature, textOf(parameters()));
    return PreparedSourcePointer(
        std::make_shared<PreparedMottle>(maps.sharedSurface(), mottle_, std::move(curvature), signature | 1));
  }

 private:
  bool bends() const { return mottle_.bend > 0 && mottle_.crease > 0; }
  MapSetting curvature() const { return {&kRidgeMap, mottle_.crease, Vec3::UnitY(), 1}; }

  Mottle mottle_;
};

constexpr Member<Mottle> kMottleMembers[] = {
    {{"size", "Size", "How large the clouds are", MemberUnit::Length, kLeastLength, kEndless, 0.005f, 0.5f},
     [](Mottle& s) -> float& { return s.size; }},
    {{"fine", "Fine size", "How large the small ones are", MemberUnit::Length, kLeastLength, kEndless, 0.001f,
      0.1f},
     [](Mottle& s) -> float& { return s.fine; }},
    {{"balance", "Balance", "0 large clouds alone, 100 small ones alone"},
     [](Mottle& s) -> float& { return s.balance; }},
    {{"softness", "Softness", "0 hard edges between tones, 100 flowing into each other"},
     [](Mottle& s) -> float& { return s.softness; }},
    {{"marbling", "Marbling", "0 clouds, 100 a net of streaks like blood under thin skin"},
     [](Mottle& s) -> float& { return s.marbling; }},
    {{"bend", "Bend", "How far they follow ridges and creases"}, [](Mottle& s) -> float& { return s.bend; }},
    {{"crease", "Crease", "The size of the forms that bend them", MemberUnit::Length, 0, kEndless, 0.002f,
      0.08f},
     [](Mottle& s) -> float& { return s.crease; }},
};

const std::vector<std::string_view> kMottleKeys = keysWith<Mottle>({"tones", "seed"});

Result<SourcePointer> readMottle(const nlohmann::json& parameters, size_t) {
  Mottle out;
  const nlohmann::json* tones = nullptr;
  JsonFields fields(parameters);
  fields.list("tones", tones).whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).needs({"tones", "size"}).done();
  if (!ok) return Error{"a mottle " + ok.error().what};
  if (tones->size() < 2 || tones->size() > 4) return Error{"a mottle has two to four \"tones\""};
  for (const auto& j : *tones) {
    Mottle::Tone tone;
    const Outcome read = JsonFields(j)
                             .value("color", tone.color, kJsonColor)
                             .number("alpha", tone.alpha, 0, 1)
                             .needs({"color"})
                             .done();
    if (!read) return Error{"a tone of a mottle " + read.error().what};
    out.tones.push_back(tone);
  }
  return mottleSource(std::move(out));
}

SourcePointer freshMottle(const Surface& surface, const EncodedColor& color) {
  const float d = surface.bounds.diagonal();
  Mottle out;
  out.tones = {{color, 0}, {color, 0.45f}};
  out.size = 0.05f * d;
  out.fine = 0.014f * d;
  out.crease = 0.012f * d;
  return mottleSource(std::move(out));
}

SourcePointer exampleMottle(const Surface&) {
  Mottle out;
  out.tones = {{{0.62f, 0.3f, 0.25f}, 0.6f}, {{0.75f, 0.58f, 0.42f}, 0.1f}, {{0.55f, 0.5f, 0.46f}, 0.55f}};
  out.size = 0.7f;
  out.fine = 0.2f;
  out.bend = 0;
  return mottleSource(std::move(out));
}

}  // namespace

template <>
std::span<const Member<Mottle>> membersOf() {
  return kMottleMembers;
}

const SourceKind kMottleKind{
    "mottle",          "Mottle",    "Cloudy tones at two scales, bent along creases; blood marbling",
    Stratum::Pigment,  2,           kMottleKeys,
    readMottle,        freshMottle, exampleMottle,
    nullptr,           {},          lengthsOf<Mottle>(),
    allMembers<Mottle>};

SourcePointer mottleSource(Mottle mottle) {
  return std::make_shared<MottleLayer>(std::move(mottle));
}

const Mottle* mottleOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const MottleLayer*>(&source);
  return layer ? &layer->mottle() : nullptr;
}

}  // namespace juvenor
