// One colour everywhere; its chunk is the same for every place and is shared.
#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

class Fill final : public LayerSource, public PreparedSource, public std::enable_shared_from_this<Fill> {
 public:
  explicit Fill(const EncodedColor& color) : color_(color) {
    auto chunk = std::make_shared<ColorChunk>();
    const Rgba16 c = opaque16(color);
    chunk->plane[0].fill(c.r);
    chunk->plane[1].fill(c.g);
    chunk->plane[2].fill(c.b);
    chunk->plane[3].fill(c.a);
    chunk_ = std::move(chunk);
  }
  const EncodedColor& color() const { return color_; }

  const SourceKind& kind() const override { return kFillKind; }
  nlohmann::json parameters() const override { return {{"color", toJson(color_)}}; }
  SourcePointer refined(const Refined&) const override { return fillSource(color_); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return PreparedSourcePointer(shared_from_this());
  }

  ColorField::Pointer chunk(size_t, const ColorChunk&) const override { return chunk_; }

 private:
  EncodedColor color_;
  ColorField::Pointer chunk_;
};

constexpr std::string_view kFillKeys[] = {"color"};

Result<SourcePointer> readFill(const nlohmann::json& parameters, size_t) {
  EncodedColor color;
  const Outcome ok = JsonFields(parameters).color("color", color).needs({"color"}).done();
  if (!ok) return Error{"a fill " + ok.error().what};
  return fillSource(color);
}

SourcePointer freshFill(const Surface&, const EncodedColor& color) {
  return fillSource(color);
}

SourcePointer exampleFill(const Surface&) {
  return fillSource({0.55f, 0.36f, 0.27f});
}

}  // namespace

const SourceKind kFillKind{
    "fill", "Fill", "One colour everywhere", Stratum::Flesh, -1, kFillKeys, readFill, freshFill, exampleFill};

SourcePointer fillSource(const EncodedColor& color) {
  return std::make_shared<Fill>(color);
}

std::optional<EncodedColor> fillColor(const LayerSource& source) {
  if (const auto* fill = dynamic_cast<const Fill*>(&source)) return fill->color();
  return std::nullopt;
}

}  // namespace juvenor
