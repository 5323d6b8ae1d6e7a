// A sheet one can paint on: a field for each channel, nothing else.
#include "core/layers/sources/painted.h"

#include <cmath>

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"
#include "core/surface/falloff.h"

namespace juvenor {
namespace {

template <int Planes>
void markOthers(const Field<Planes>& before, const Field<Planes>& now, std::vector<char>& marks) {
  for (size_t i = 0; i < marks.size(); ++i)
    if (before.chunk(i) != now.chunk(i)) marks[i] = 1;
}

class Painted final : public LayerSource,
                      public PreparedSource,
                      public std::enable_shared_from_this<Painted> {
 public:
  explicit Painted(ChannelFields fields) : fields_(std::move(fields)), channels_(fields_.written()) {}

  const SourceKind& kind() const override { return kPaintedKind; }
  nlohmann::json parameters() const override { return nlohmann::json::object(); }
  const ChannelFields* fields() const override { return &fields_; }
  ChannelSet channels() const override { return channels_; }
  SourcePointer refined(const Refined& r) const override {
    ChannelFields finer(r.origins.size());
    eachChannel([&](auto c) {
      if (channels_.has(c())) finer.get<c()>() = refinedField(fields_.get<c()>(), r.origins);
    });
    return paintedSource(std::move(finer));
  }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return PreparedSourcePointer(shared_from_this());
  }

  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    return fields_.color().chunk(ask.index);
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    return ofRule<ChannelRule::Cover, CoverField::Pointer>(channel, ask.index);
  }
  ScalarField::Pointer heights(Channel channel, const ChunkAsk& ask) const override {
    return ofRule<ChannelRule::Add, ScalarField::Pointer>(channel, ask.index);
  }
  bool markChanges(Channel channel, const PreparedSource& before, std::vector<char>& marks) const override {
    const ChannelFields& old = static_cast<const Painted&>(before).fields_;
    eachChannel([&](auto c) {
      if (c() == channel) markOthers(old.get<c()>(), fields_.get<c()>(), marks);
    });
    return true;
  }
  void markContent(Channel channel, std::vector<char>& marks) const override {
    eachChannel([&](auto c) {
      if (c() == channel) markOthers(ChannelField<c()>(), fields_.get<c()>(), marks);
    });
  }

 private:
  template <ChannelRule Rule, class Pointer>
  Pointer ofRule(Channel channel, size_t index) const {
    Pointer out;
    eachChannel([&](auto c) {
      if constexpr (factsOf(c()).rule == Rule)
        if (c() == channel) out = fields_.get<c()>().chunk(index);
    });
    return out;
  }

  ChannelFields fields_;
  ChannelSet channels_;
};

Result<SourcePointer> readPainted(const nlohmann::json& parameters, size_t samples) {
  const Outcome ok = JsonFields(parameters).done();
  if (!ok) return Error{"a painted layer " + ok.error().what};
  return paintedSource(ChannelFields(samples));
}

SourcePointer freshPainted(const Surface& surface, const EncodedColor&) {
  return paintedSource(ChannelFields(surface.size()));
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

SourcePointer paintedSource(ChannelFields fields) {
  return std::make_shared<Painted>(std::move(fields));
}

SourcePointer paintedSource(ColorField color) {
  return paintedSource(ChannelFields(std::move(color)));
}

}  // namespace juvenor
