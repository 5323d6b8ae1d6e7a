// Adjust: changes what all layers below it come to, within its mask, and brings nothing of its own.
#include <fmt/format.h>

#include "core/color/color_json.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/sources/registry.h"
#include "core/layers/straight_chunk.h"

namespace juvenor {
namespace {

class PreparedAdjust final : public PreparedSource {
 public:
  explicit PreparedAdjust(const Adjust& adjust)
      : adjust_(adjust), matrix_(matrixOf(adjust)), curve_(curveOfValues(curveTable(adjust.curve))) {
    for (size_t c = 0; c < kChannelCount; ++c)
      if (kChannels[c].rule != ChannelRule::Blend && adjust.on.has(static_cast<Channel>(c)))
        values_[c] = adjustedValues(adjust, middleOf(static_cast<Channel>(c)));
  }
  ChannelSet channels() const override { return adjust_.on; }
  bool changesBelow() const override { return true; }
  ColorField::Pointer colors(const ChunkAsk&, const ColorChunk& below) const override {
    auto out = std::make_shared<ColorChunk>();
    if (isOpaque(below)) {
      adjustChunk(matrix_, curve_, below, *out);
    } else {
      adjustChunk(matrix_, curve_, straightened(below), *out);
      coverBy(*out, below.plane[3]);
    }
    return out;
  }

  CoverField::Pointer changedCovers(Channel channel, const ChunkAsk&,
                                    const CoverChunk& below) const override {
    return changed(values_[static_cast<size_t>(channel)], below);
  }
  ScalarField::Pointer changedHeights(Channel channel, const ChunkAsk&,
                                      const ScalarChunk& below) const override {
    return changed(values_[static_cast<size_t>(channel)], below);
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    const auto* old = dynamic_cast<const PreparedAdjust*>(&before);
    return old && old->adjust_ == adjust_;
  }

 private:
  template <int Planes>
  static std::shared_ptr<Chunk<Planes>> changed(std::span<const uint16_t> becomes,
                                                const Chunk<Planes>& below) {
    auto out = std::make_shared<Chunk<Planes>>(below);
    for (size_t i = 0; i < kChunkSize; ++i) out->plane[0][i] = adjustedValue(becomes, below, i);
    return out;
  }

  Adjust adjust_;
  ColorMatrix matrix_;
  std::vector<uint16_t> curve_;
  std::array<std::vector<uint16_t>, kChannelCount> values_;
};

class AdjustLayer final : public LayerSource {
 public:
  explicit AdjustLayer(Adjust adjust) : adjust_(std::move(adjust)) {}
  const Adjust& adjust() const { return adjust_; }

  const SourceKind& kind() const override { return kAdjustKind; }
  nlohmann::json parameters() const override { return toJson(adjust_); }
  ChannelSet channels() const override { return adjust_.on; }
  SourcePointer refined(const Refined&) const override { return adjustSource(adjust_); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return PreparedSourcePointer(std::make_shared<PreparedAdjust>(adjust_));
  }

 private:
  Adjust adjust_;
};

constexpr Member<Adjust> kAdjustMembers[] = {
    {{"lightness", "Lightness",
      "Toward black or toward white; of gloss toward dry or wet, of relief down or up", MemberUnit::Part, -1,
      1},
     [](Adjust& a) -> float& { return a.lightness; }},
    {{"contrast", "Contrast", "Around the middle grey; of relief how steep it is", MemberUnit::Part, -1, 1},
     [](Adjust& a) -> float& { return a.contrast; }},
    {{"hue", "Hue", "By how much hues turn; lightness stays", MemberUnit::Degrees, -180, 180},
     [](Adjust& a) -> float& { return a.hue; }},
    {{"saturation", "Saturation", "−100 grey, 100 twice as full; lightness stays", MemberUnit::Part, -1, 1},
     [](Adjust& a) -> float& { return a.saturation; }},
    {{"tinted", "Tinted", "How far colours take the tint's hue, as light as they were"},
     [](Adjust& a) -> float& { return a.tinted; }},
    {{"matched", "Matched", "How far the tone below comes to the one it is matched to"},
     [](Adjust& a) -> float& { return a.matched; }},
};

const std::vector<std::string_view> kAdjustKeys = keysWith<Adjust>({"on", "tint", "from", "to", "curve"});

Outcome readCurve(const nlohmann::json& list, Adjust& out) {
  constexpr size_t kMostPoints = 64;
  if (list.size() > kMostPoints) return Error{fmt::format("its curve has more than {} points", kMostPoints)};
  for (const auto& point : list) {
    const auto in = point.is_array() && point.size() == 2 ? numberFromJson(point[0]) : std::nullopt;
    const auto to = in ? numberFromJson(point[1]) : std::nullopt;
    if (!to) return Error{fmt::format("point {} of its curve is not two numbers", out.curve.size() + 1)};
    out.curve.push_back({std::clamp(*in, 0.f, 1.f), std::clamp(*to, 0.f, 1.f)});
  }
  return Done{};
}

Result<SourcePointer> readAdjust(const nlohmann::json& parameters, size_t) {
  Adjust out;
  const nlohmann::json *curve = nullptr, *on = nullptr;
  JsonFields fields(parameters);
  fields.list("on", on)
      .value("tint", out.tint, kJsonColor)
      .value("from", out.from, kJsonColor)
      .value("to", out.to, kJsonColor)
      .list("curve", curve);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"an adjust layer: " + ok.error().what};
  if (const Outcome read = readChannelSet(on, out.on); !read)
    return Error{"an adjust layer: " + read.error().what};
  if (curve)
    if (const Outcome read = readCurve(*curve, out); !read)
      return Error{"an adjust layer: " + read.error().what};
  return adjustSource(std::move(out));
}

SourcePointer freshAdjust(const Surface&, const EncodedColor& color) {
  Adjust out;
  out.tint = out.to = color;
  return adjustSource(std::move(out));
}

SourcePointer exampleAdjust(const Surface&) {
  Adjust out;
  out.saturation = 0.5f;
  out.hue = -14;
  out.contrast = 0.2f;
  out.lightness = -0.12f;
  return adjustSource(std::move(out));
}

}  // namespace

template <>
std::span<const Member<Adjust>> membersOf() {
  return kAdjustMembers;
}

const SourceKind kAdjustKind{
    "adjust",          "Adjust",    "Changes what lies below: lightness, contrast, hue, tint, curve, match",
    Stratum::Pigment,  -1,          kAdjustKeys,
    readAdjust,        freshAdjust, exampleAdjust,
    nullptr,           {},          {},
    allMembers<Adjust>};

SourcePointer adjustSource(Adjust adjust) {
  return std::make_shared<AdjustLayer>(std::move(adjust));
}

const Adjust* adjustOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const AdjustLayer*>(&source);
  return layer ? &layer->adjust() : nullptr;
}

}  // namespace juvenor
