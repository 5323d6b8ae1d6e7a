// A sheet one can paint on: a colour field, nothing else.
#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

class Painted final : public LayerSource,
                      public PreparedSource,
                      public std::enable_shared_from_this<Painted> {
 public:
  explicit Painted(ColorField field) : field_(std::move(field)) {}

  const SourceKind& kind() const override { return kPaintedKind; }
  nlohmann::json parameters() const override { return nlohmann::json::object(); }
  const ColorField* painted() const override { return &field_; }
  SourcePointer refined(const Refined& r) const override {
    return paintedSource(refinedField(field_, r.origins));
  }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return PreparedSourcePointer(shared_from_this());
  }

  ColorField::Pointer chunk(size_t index, const ColorChunk&) const override { return field_.chunk(index); }
  bool markChanges(const PreparedSource& before, std::vector<char>& marks) const override {
    const ColorField& old = static_cast<const Painted&>(before).field_;
    for (size_t i = 0; i < marks.size(); ++i)
      if (old.chunk(i) != field_.chunk(i)) marks[i] = 1;
    return true;
  }
  void markContent(std::vector<char>& marks) const override {
    for (size_t i = 0; i < marks.size(); ++i)
      if (field_.chunk(i)) marks[i] = 1;
  }

 private:
  ColorField field_;
};

Result<SourcePointer> readPainted(const nlohmann::json& parameters, size_t samples) {
  const Outcome ok = JsonFields(parameters).done();
  if (!ok) return Error{"a painted layer " + ok.error().what};
  return paintedSource(ColorField(samples));
}

}  // namespace

const SourceKind kPaintedKind{
    "painted", "Painted", "A sheet to paint on with every tool", Stratum::Pigment, -1, {}, readPainted};

SourcePointer paintedSource(ColorField field) {
  return std::make_shared<Painted>(std::move(field));
}

}  // namespace juvenor
