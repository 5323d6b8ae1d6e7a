#include "core/layers/sources/fill.h"

namespace juvenor {
namespace {

class Fill final : public LayerSource {
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
  std::string_view kind() const override { return "fill"; }
  ColorField::Pointer chunk(SurfaceMaps&, size_t, const ColorChunk&) const override { return chunk_; }
  nlohmann::json parameters() const override { return {{"color", {color_.r, color_.g, color_.b}}}; }
  SourcePointer refined(const Refined&) const override { return fillSource(color_); }
  const EncodedColor& color() const { return color_; }

 private:
  EncodedColor color_;
  ColorField::Pointer chunk_;
};

}  // namespace

SourcePointer fillSource(const EncodedColor& color) {
  return std::make_shared<Fill>(color);
}

std::optional<EncodedColor> fillColor(const LayerSource& source) {
  if (const auto* fill = dynamic_cast<const Fill*>(&source)) return fill->color();
  return std::nullopt;
}

Result<SourcePointer> readFill(const nlohmann::json& parameters, size_t) {
  const auto color = parameters.find("color");
  if (color == parameters.end() || !color->is_array() || color->size() != 3)
    return Error{"a fill needs \"color\": [red, green, blue], each 0 to 1"};
  for (const auto& v : *color)
    if (!v.is_number()) return Error{"a fill's colour needs three numbers"};
  return fillSource({(*color)[0].get<float>(), (*color)[1].get<float>(), (*color)[2].get<float>()});
}

}  // namespace juvenor
