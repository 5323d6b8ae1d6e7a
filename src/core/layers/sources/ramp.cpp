// Surface maps through a row of colours: rubbed light on the ridges, darker toward the feet.
#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

using Table = std::vector<Rgba16>;

class PreparedRamp final : public PreparedSource {
 public:
  PreparedRamp(std::shared_ptr<const ScalarField> values, std::shared_ptr<const Table> table)
      : values_(std::move(values)), table_(std::move(table)) {}

  ColorField::Pointer chunk(size_t index, const ColorChunk&) const override {
    const auto& value = values_->chunk(index)->plane[0];
    auto out = std::make_shared<ColorChunk>();
    const size_t last = table_->size() - 1;
    for (size_t i = 0; i < kChunkSize; ++i) setSample(*out, i, (*table_)[(value[i] * last + 32767) / 65535]);
    return out;
  }

 private:
  std::shared_ptr<const ScalarField> values_;
  std::shared_ptr<const Table> table_;
};

class Ramp final : public LayerSource {
 public:
  Ramp(MaskTerms terms, ColorRamp stops)
      : content_{std::move(terms), std::move(stops)},
        table_(std::make_shared<const Table>(rampTable(content_.stops))) {}
  const RampContent& content() const { return content_; }

  const SourceKind& kind() const override { return kRampKind; }
  nlohmann::json parameters() const override {
    return {{"maps", toJson(content_.terms)}, {"stops", toJson(content_.stops)}};
  }
  SourcePointer refined(const Refined&) const override { return rampSource(content_.terms, content_.stops); }
  std::string remark() const override {
    return content_.terms.empty() ? std::string() : std::string(content_.terms.front().map.kind->key);
  }
  bool isReady(SurfaceMaps& maps) const override { return isMaskReady(maps, content_.terms); }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(content_.terms); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    const auto values = maskOf(maps, content_.terms, progress);
    if (!values) return values.error();
    return PreparedSourcePointer(std::make_shared<PreparedRamp>(*values, table_));
  }

 private:
  RampContent content_;
  std::shared_ptr<const Table> table_;
};

constexpr std::string_view kRampKeys[] = {"maps", "stops"};

Result<SourcePointer> readRamp(const nlohmann::json& parameters, size_t) {
  const nlohmann::json *maps = nullptr, *stopList = nullptr;
  const Outcome ok =
      JsonFields(parameters).list("maps", maps).list("stops", stopList).needs({"maps", "stops"}).done();
  if (!ok) return Error{"a ramp " + ok.error().what};
  auto terms = maskTermsFrom(*maps);
  if (!terms) return terms.error();
  if (terms->empty()) return Error{"a ramp needs one map at least"};
  auto stops = colorRampFrom(*stopList);
  if (!stops) return stops.error();
  return rampSource(std::move(*terms), std::move(*stops));
}

SourcePointer freshRamp(const Surface& surface, const EncodedColor& color) {
  MaskTerm term;
  term.map = usualMap(&kElevationMap, surface.bounds.diagonal());
  return rampSource({term}, {{0, color, 0}, {1, color, 1}});
}

SourcePointer exampleRamp(const Surface&) {
  MaskTerm term;
  term.map = {&kFacingMap, 0, Vec3(0, 0.7f, 0.7f)};
  term.low = term.high = 0.2f;
  term.fade = 0.6f;
  return rampSource({term}, {{0, {0.4f, 0.2f, 0.14f}, 0}, {1, {0.36f, 0.18f, 0.13f}, 0.9f}});
}

}  // namespace

const SourceKind kRampKind{"ramp",           "Ramp",    "Surface maps through a row of colours",
                           Stratum::Pigment, -1,        kRampKeys,
                           readRamp,         freshRamp, exampleRamp};

SourcePointer rampSource(MaskTerms terms, ColorRamp stops) {
  return std::make_shared<Ramp>(std::move(terms), std::move(stops));
}

std::optional<RampContent> rampContent(const LayerSource& source) {
  if (const auto* ramp = dynamic_cast<const Ramp*>(&source)) return ramp->content();
  return std::nullopt;
}

}  // namespace juvenor
