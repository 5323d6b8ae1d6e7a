#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

class Painted final : public LayerSource {
 public:
  explicit Painted(ColorField field) : field_(std::move(field)) {}
  std::string_view kind() const override { return "painted"; }
  ColorField::Pointer chunk(SurfaceMaps&, size_t index, const ColorChunk&) const override {
    return field_.chunk(index);
  }
  bool markChanges(SurfaceMaps&, const LayerSource& before, std::vector<char>& marks) const override {
    for (size_t i = 0; i < marks.size(); ++i)
      if (before.painted()->chunk(i) != field_.chunk(i)) marks[i] = 1;
    return true;
  }
  void markContent(SurfaceMaps&, std::vector<char>& marks) const override {
    for (size_t i = 0; i < marks.size(); ++i)
      if (field_.chunk(i)) marks[i] = 1;
  }
  nlohmann::json parameters() const override { return nlohmann::json::object(); }
  const ColorField* painted() const override { return &field_; }
  SourcePointer refined(const Refined& r) const override {
    return paintedSource(refinedField(field_, r.origins));
  }

 private:
  ColorField field_;
};

}  // namespace

SourcePointer paintedSource(ColorField field) {
  return std::make_shared<Painted>(std::move(field));
}

Result<SourcePointer> readPainted(const nlohmann::json&, size_t samples) {
  return paintedSource(ColorField(samples));
}

}  // namespace juvenor
