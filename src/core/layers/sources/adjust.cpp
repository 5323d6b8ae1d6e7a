// Adjust: changes the colours of all layers below it, within its mask, and brings none of its own.
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
      : matrix_(matrixOf(adjust)), curve_(curveOfValues(curveTable(adjust.curve))) {}
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

 private:
  ColorMatrix matrix_;
  std::vector<float> curve_;
};

class AdjustLayer final : public LayerSource {
 public:
  explicit AdjustLayer(Adjust adjust) : adjust_(std::move(adjust)) {}
  const Adjust& adjust() const { return adjust_; }

  const SourceKind& kind() const override { return kAdjustKind; }
  nlohmann::json parameters() const override { return toJson(adjust_); }
  SourcePointer refined(const Refined&) const override { return adjustSource(adjust_); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return PreparedSourcePointer(std::make_shared<PreparedAdjust>(adjust_));
  }

 private:
  Adjust adjust_;
};

constexpr std::string_view kAdjustKeys[] = {"lightness", "contrast", "hue", "saturation", "tint",
                                            "tinted",    "from",     "to",  "matched",    "curve"};

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
  const nlohmann::json* curve = nullptr;
  const Outcome ok = JsonFields(parameters)
                         .number("lightness", out.lightness, -1, 1)
                         .number("contrast", out.contrast, -1, 1)
                         .number("hue", out.hue, -180, 180)
                         .number("saturation", out.saturation, -1, 1)
                         .value("tint", out.tint, kJsonColor)
                         .number("tinted", out.tinted, 0, 1)
                         .value("from", out.from, kJsonColor)
                         .value("to", out.to, kJsonColor)
                         .number("matched", out.matched, 0, 1)
                         .list("curve", curve)
                         .done();
  if (!ok) return Error{"an adjust layer: " + ok.error().what};
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

const SourceKind kAdjustKind{
    "adjust",         "Adjust",    "Changes the colours below: lightness, contrast, hue, tint, curve, match",
    Stratum::Pigment, -1,          kAdjustKeys,
    readAdjust,       freshAdjust, exampleAdjust};

SourcePointer adjustSource(Adjust adjust) {
  return std::make_shared<AdjustLayer>(std::move(adjust));
}

const Adjust* adjustOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const AdjustLayer*>(&source);
  return layer ? &layer->adjust() : nullptr;
}

}  // namespace juvenor
