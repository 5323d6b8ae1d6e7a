// One value of each channel everywhere; its chunks are the same for every place and are shared.
#include "core/layers/sources/fill.h"

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

template <int Planes>
std::shared_ptr<const Chunk<Planes>> evenChunk(const typename Field<Planes>::Value& value) {
  auto out = std::make_shared<Chunk<Planes>>();
  for (size_t p = 0; p < Planes; ++p) out->plane[p].fill(value[p]);
  return out;
}

class PreparedFill final : public PreparedSource {
 public:
  PreparedFill(const ChannelValues& values, float reliefStep) : channels_(values.channels()) {
    eachChannel([&](auto c) {
      if (!channels_.has(c())) return;
      auto chunk = evenChunk<factsOf(c()).planes()>(laid<c()>(values, reliefStep));
      if constexpr (factsOf(c()).rule == ChannelRule::Blend)
        colors_ = std::move(chunk);
      else if constexpr (factsOf(c()).rule == ChannelRule::Cover)
        covers_[static_cast<size_t>(c())] = std::move(chunk);
      else
        heights_[static_cast<size_t>(c())] = std::move(chunk);
    });
  }

  ChannelSet channels() const override { return channels_; }
  ColorField::Pointer colors(const ChunkAsk&, const ColorChunk&) const override { return colors_; }
  CoverField::Pointer covers(Channel c, const ChunkAsk&) const override {
    return covers_[static_cast<size_t>(c)];
  }
  ScalarField::Pointer heights(Channel c, const ChunkAsk&) const override {
    return heights_[static_cast<size_t>(c)];
  }

 private:
  ChannelSet channels_;
  ColorField::Pointer colors_;
  std::array<CoverField::Pointer, kChannelCount> covers_;
  std::array<ScalarField::Pointer, kChannelCount> heights_;
};

class Fill final : public LayerSource {
 public:
  explicit Fill(const ChannelValues& values) : values_(values) {}
  const ChannelValues& values() const { return values_; }

  const SourceKind& kind() const override { return kFillKind; }
  nlohmann::json parameters() const override {
    nlohmann::json out = nlohmann::json::object();
    addToJson(out, values_);
    return out;
  }
  ChannelSet channels() const override { return values_.channels(); }
  SourcePointer refined(const Refined&) const override { return fillSource(values_); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress&) const override {
    return PreparedSourcePointer(std::make_shared<PreparedFill>(values_, maps.reliefStep()));
  }

 private:
  ChannelValues values_;
};

std::vector<std::string_view> fillKeys() {
  const auto keys = channelKeys();
  return {keys.begin(), keys.end()};
}

Result<SourcePointer> readFill(const nlohmann::json& parameters, size_t) {
  ChannelValues values;
  JsonFields fields(parameters);
  const Outcome ok = readChannels(fields, values).done();
  if (!ok) return Error{"a fill " + ok.error().what};
  if (values.channels().empty()) return Error{"a fill needs a value of one channel at least, like \"color\""};
  return fillSource(values);
}

SourcePointer freshFill(const Surface&, const EncodedColor& color) {
  return fillSource(color);
}

SourcePointer exampleFill(const Surface&) {
  return fillSource(EncodedColor{0.55f, 0.36f, 0.27f});
}

const std::vector<std::string_view> kFillLengths{"relief"};

}  // namespace

const SourceKind kFillKind{"fill",         "Fill",    "One colour, or gloss, everywhere",
                           Stratum::Flesh, -1,        fillKeys(),
                           readFill,       freshFill, exampleFill,
                           nullptr,        {},        kFillLengths};

SourcePointer fillSource(const ChannelValues& values) {
  return std::make_shared<Fill>(values);
}

SourcePointer fillSource(const EncodedColor& color) {
  return fillSource(ChannelValues(color));
}

std::optional<ChannelValues> fillValues(const LayerSource& source) {
  if (const auto* fill = dynamic_cast<const Fill*>(&source)) return fill->values();
  return std::nullopt;
}

std::optional<EncodedColor> fillColor(const LayerSource& source) {
  const auto values = fillValues(source);
  return values ? values->color : std::nullopt;
}

}  // namespace juvenor
