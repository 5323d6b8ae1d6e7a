#include "core/layers/sources/soothed.h"

#include "core/json_fields.h"

#include <algorithm>

namespace juvenor {
namespace {

class Soothed final : public PreparedSource {
 public:
  Soothed(PreparedSourcePointer source, std::shared_ptr<const ScalarField> left)
      : source_(std::move(source)), left_(std::move(left)) {}

  ChannelSet channels() const override { return source_->channels(); }
  bool readsBelow() const override { return source_->readsBelow(); }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk& below) const override {
    return source_->colors(ask, below);
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    return source_->covers(channel, ask);
  }
  ScalarField::Pointer heights(Channel channel, const ChunkAsk& ask) const override {
    const ScalarField::Pointer all = source_->heights(channel, ask);
    const ScalarField::Pointer& left = left_->chunk(ask.index);
    if (!all || !left) return all;
    auto out = std::make_shared<ScalarChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) {
      const int height = int{all->plane[0][i]} - kLevel;
      out->plane[0][i] = static_cast<uint16_t>(kLevel + height * int64_t{left->plane[0][i]} / 65535);
    }
    return out;
  }
  bool thins() const override { return source_->thins(); }
  std::string note() const override { return source_->note(); }
  bool markChanges(Channel channel, const PreparedSource& before, std::vector<char>& marks) const override {
    const auto* old = dynamic_cast<const Soothed*>(&before);
    if (!source_->markChanges(channel, old ? *old->source_ : before, marks)) return false;
    for (size_t c = 0; channel == Channel::Relief && c < marks.size(); ++c) {
      const ScalarField::Pointer &now = left_->chunk(c), was = old ? old->left_->chunk(c) : nullptr;
      if (now != was && !(now && was && now->plane == was->plane)) marks[c] = 1;
    }
    return true;
  }
  void markContent(Channel channel, std::vector<char>& marks) const override {
    source_->markContent(channel, marks);
  }

 private:
  PreparedSourcePointer source_;
  std::shared_ptr<const ScalarField> left_;
};

}  // namespace

std::shared_ptr<const ScalarField> soothedField(SurfaceMaps& maps, const std::vector<SkinStroke>& strokes) {
  return *maps.derived<ScalarField>(
      "soothed " + textOf(toJson(strokes)), [&]() -> Result<std::shared_ptr<const ScalarField>> {
        std::vector<float> by(maps.size(), 0);
        for (const SkinStroke& stroke : strokes)
          eachUnder(maps.surface(), stroke, [&](uint32_t s, float weight) {
            by[s] += (1 - by[s]) * std::max(0.f, stroke.strength) * weight;
            by[s] *= 1 - std::max(0.f, -stroke.strength) * weight;
          });
        auto out = std::make_shared<ScalarField>(maps.size(), ScalarField::Value{65535});
        for (size_t c = 0; c < out->chunkCount(); ++c) {
          const auto first = by.begin() + static_cast<std::ptrdiff_t>(c * kChunkSize);
          const auto end =
              by.begin() + static_cast<std::ptrdiff_t>(std::min(by.size(), (c + 1) * kChunkSize));
          if (std::all_of(first, end, [](float b) { return b <= 0; })) continue;
          auto chunk = out->writable(c);
          std::transform(first, end, chunk->plane[0].begin(), [](float b) { return to16(1 - b); });
          out->setChunk(c, std::move(chunk));
        }
        return std::shared_ptr<const ScalarField>(std::move(out));
      });
}

PreparedSourcePointer soothed(PreparedSourcePointer source, std::shared_ptr<const ScalarField> left) {
  return std::make_shared<Soothed>(std::move(source), std::move(left));
}

}  // namespace juvenor
