// Surface maps through a row of values: rubbed light on the ridges, darker toward the feet, dry in the
// creases.
#include "core/layers/sources/ramp.h"

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

template <Channel C>
using Table = std::vector<typename ChannelField<C>::Value>;

// For each channel what its samples hold along the ramp; empty for those it does not bring.
struct Tables {
  Table<Channel::Color> color;
  std::array<Table<Channel::Gloss>, kChannelCount> covers;
  std::array<Table<Channel::Relief>, kChannelCount> heights;
};

std::shared_ptr<const Tables> tablesOf(const RampContent& content, float reliefStep) {
  auto out = std::make_shared<Tables>();
  eachChannel([&](auto c) {
    if (!content.channels.has(c())) return;
    auto table = rampValues<c()>(content.stops, reliefStep);
    if constexpr (factsOf(c()).rule == ChannelRule::Blend)
      out->color = std::move(table);
    else if constexpr (factsOf(c()).rule == ChannelRule::Cover)
      out->covers[static_cast<size_t>(c())] = std::move(table);
    else
      out->heights[static_cast<size_t>(c())] = std::move(table);
  });
  return out;
}

class PreparedRamp final : public PreparedSource {
 public:
  PreparedRamp(std::shared_ptr<const ScalarField> values, std::shared_ptr<const Tables> tables,
               ChannelSet channels)
      : values_(std::move(values)), tables_(std::move(tables)), channels_(channels) {}

  ChannelSet channels() const override { return channels_; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    return lookedUp<4>(ask.index, tables_->color);
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    return lookedUp<2>(ask.index, tables_->covers[static_cast<size_t>(channel)]);
  }
  ScalarField::Pointer heights(Channel channel, const ChunkAsk& ask) const override {
    return lookedUp<1>(ask.index, tables_->heights[static_cast<size_t>(channel)]);
  }

 private:
  template <int Planes>
  typename Field<Planes>::Pointer lookedUp(size_t index,
                                           const std::vector<typename Field<Planes>::Value>& table) const {
    if (table.empty()) return nullptr;
    const auto& value = values_->chunk(index)->plane[0];
    auto out = std::make_shared<Chunk<Planes>>();
    const size_t last = table.size() - 1;
    for (size_t i = 0; i < kChunkSize; ++i) {
      const auto& found = table[(value[i] * last + 32767) / 65535];
      for (size_t p = 0; p < Planes; ++p) out->plane[p][i] = found[p];
    }
    return out;
  }

  std::shared_ptr<const ScalarField> values_;
  std::shared_ptr<const Tables> tables_;
  ChannelSet channels_;
};

class Ramp final : public LayerSource {
 public:
  explicit Ramp(RampContent content) : content_(std::move(content)) {}
  const RampContent& content() const { return content_; }

  const SourceKind& kind() const override { return kRampKind; }
  nlohmann::json parameters() const override {
    return {{"maps", toJson(content_.terms)}, {"stops", toJson(content_.stops, content_.channels)}};
  }
  ChannelSet channels() const override { return content_.channels; }
  const MaskTerms* terms() const override { return &content_.terms; }
  SourcePointer withTerms(MaskTerms terms) const override {
    return rampSource(std::move(terms), content_.stops, content_.channels);
  }
  SourcePointer refined(const Refined&) const override { return std::make_shared<Ramp>(content_); }
  std::string remark() const override {
    return content_.terms.empty() ? std::string() : std::string(content_.terms.front().map.kind->key);
  }
  bool isReady(SurfaceMaps& maps) const override { return isMaskReady(maps, content_.terms); }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(content_.terms); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    const auto values = maskOf(maps, content_.terms, progress);
    if (!values) return values.error();
    return PreparedSourcePointer(
        std::make_shared<PreparedRamp>(*values, tablesOf(content_, maps.reliefStep()), content_.channels));
  }

 private:
  RampContent content_;
};

const std::vector<std::string_view> kRampKeys{"maps", "stops"};

Result<SourcePointer> readRamp(const nlohmann::json& parameters, size_t) {
  const nlohmann::json *maps = nullptr, *stopList = nullptr;
  const Outcome ok =
      JsonFields(parameters).list("maps", maps).list("stops", stopList).needs({"maps", "stops"}).done();
  if (!ok) return Error{"a ramp " + ok.error().what};
  auto terms = maskTermsFrom(*maps);
  if (!terms) return terms.error();
  if (terms->empty()) return Error{"a ramp needs one map at least"};
  auto ramp = rampFrom(*stopList);
  if (!ramp) return ramp.error();
  return rampSource(std::move(*terms), std::move(ramp->stops), ramp->channels);
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

const SourceKind kRampKind{"ramp",
                           "Ramp",
                           "Surface maps through a row of values",
                           Stratum::Pigment,
                           -1,
                           kRampKeys,
                           readRamp,
                           freshRamp,
                           exampleRamp,
                           nullptr,
                           "Ramp over maps"};

SourcePointer rampSource(MaskTerms terms, RampStops stops, ChannelSet channels) {
  return std::make_shared<Ramp>(RampContent{std::move(terms), std::move(stops), channels});
}

std::optional<RampContent> rampContent(const LayerSource& source) {
  if (const auto* ramp = dynamic_cast<const Ramp*>(&source)) return ramp->content();
  return std::nullopt;
}

}  // namespace juvenor
