// A sheet one can paint on: a colour field, nothing else.
#include <cmath>

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"
#include "core/surface/falloff.h"

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

SourcePointer freshPainted(const Surface& surface, const EncodedColor&) {
  return paintedSource(ColorField(surface.size()));
}

// A few broad strokes, as an airbrush lays them.
SourcePointer examplePainted(const Surface& patch) {
  ColorField field(patch.size());
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(patch.size(), (c + 1) * kChunkSize); ++s) {
      const Vec3& p = patch.positions[s];
      float cover = 0;
      for (const float lies : {-0.3f, 0.02f, 0.34f}) {
        const float off = p.y() - lies - 0.12f * std::sin(3 * p.x() + 6 * lies);
        cover =
            std::max(cover, falloff(std::abs(off) / 0.17f, 0.1f) * falloff(std::abs(p.x()) / 0.95f, 0.4f));
      }
      const auto at = [&](float v) { return to16(v * 0.75f * cover); };
      setSample(*chunk, s % kChunkSize, {at(0.36f), at(0.2f), at(0.16f), to16(0.75f * cover)});
    }
    field.setChunk(c, std::move(chunk));
  }
  return paintedSource(std::move(field));
}

}  // namespace

const SourceKind kPaintedKind{"painted",        "Painted",    "A sheet to paint on with every tool",
                              Stratum::Pigment, -1,           {},
                              readPainted,      freshPainted, examplePainted};

SourcePointer paintedSource(ColorField field) {
  return std::make_shared<Painted>(std::move(field));
}

}  // namespace juvenor
