#include "core/layers/sources/ramp.h"

namespace juvenor {
namespace {

class Ramp final : public LayerSource {
 public:
  Ramp(MaskRecipe recipe, ColorRamp stops)
      : recipe_(std::move(recipe)), stops_(std::move(stops)), table_(rampTable(stops_)) {}

  std::string_view kind() const override { return "ramp"; }
  nlohmann::json parameters() const override {
    return {{"maps", toJson(recipe_)}, {"stops", toJson(stops_)}};
  }
  SourcePointer refined(const Refined&) const override { return rampSource(recipe_, stops_); }
  std::string remark() const override {
    return recipe_.empty() ? std::string() : std::string(factsOf(recipe_.front().map.kind).key);
  }
  const MaskRecipe& recipe() const { return recipe_; }
  const ColorRamp& stops() const { return stops_; }

  Outcome prepare(SurfaceMaps& maps, const Progress& progress) const override {
    const auto values = maskOf(maps, recipe_, progress);
    return values ? Outcome(Done{}) : values.error();
  }

  ColorField::Pointer chunk(SurfaceMaps& maps, size_t index, const ColorChunk&) const override {
    const auto values = maskOf(maps, recipe_);
    if (!values) return nullptr;
    const auto& value = (*values)->chunk(index)->plane[0];
    auto out = std::make_shared<ColorChunk>();
    const size_t last = table_.size() - 1;
    for (size_t i = 0; i < kChunkSize; ++i) setSample(*out, i, table_[(value[i] * last + 32767) / 65535]);
    return out;
  }

 private:
  MaskRecipe recipe_;
  ColorRamp stops_;
  std::vector<Rgba16> table_;
};

}  // namespace

SourcePointer rampSource(MaskRecipe recipe, ColorRamp stops) {
  return std::make_shared<Ramp>(std::move(recipe), std::move(stops));
}

std::optional<RampContent> rampContent(const LayerSource& source) {
  if (const auto* ramp = dynamic_cast<const Ramp*>(&source))
    return RampContent{ramp->recipe(), ramp->stops()};
  return std::nullopt;
}

Result<SourcePointer> readRamp(const nlohmann::json& parameters, size_t) {
  if (!parameters.is_object() || !parameters.contains("maps") || !parameters.contains("stops"))
    return Error{"a ramp needs \"maps\" and \"stops\""};
  auto recipe = maskRecipeFrom(parameters["maps"]);
  if (!recipe) return recipe.error();
  if (recipe->empty()) return Error{"a ramp needs one map at least"};
  auto stops = colorRampFrom(parameters["stops"]);
  if (!stops) return stops.error();
  return rampSource(std::move(*recipe), std::move(*stops));
}

}  // namespace juvenor
