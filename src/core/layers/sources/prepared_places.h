// Patterns of which every sample has a place in something that has grown: their look is read from the places
// of a chunk.
#pragma once

#include "core/layers/sources/pattern_layer.h"

namespace juvenor {

/// `Look` gives colors, gloss and heights for a span of places and what the mask shows there. What in it is
/// touched by hand is no part of the words: it marks the chunks of that itself.
template <class Place, class Look>
class PreparedPlaces final : public PreparedPattern {
 public:
  /// One a sample; the same object only where nothing has grown anew.
  using Places = std::shared_ptr<const std::vector<Place>>;
  PreparedPlaces(Places places, Look look, Words words)
      : PreparedPattern(std::move(words)), places_(std::move(places)), look_(std::move(look)) {}

  ChannelSet channels() const override {
    return ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief;
  }
  bool thins() const override { return true; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    return look_.colors(placesOf(ask.index), ask.mask);
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    return channel == Channel::Gloss ? look_.gloss(placesOf(ask.index), ask.mask) : nullptr;
  }
  ScalarField::Pointer heights(Channel, const ChunkAsk& ask) const override {
    return look_.heights(placesOf(ask.index), ask.mask);
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>& marks) const override {
    const auto* old = dynamic_cast<const PreparedPlaces*>(&before);
    if (!old || old->places_ != places_ || !isSetAs(*old)) return false;
    if constexpr (requires { look_.markTouched(old->look_, marks); }) look_.markTouched(old->look_, marks);
    return true;
  }

 private:
  std::span<const Place> placesOf(size_t index) const {
    return std::span(*places_).subspan(index * kChunkSize,
                                       std::min(kChunkSize, places_->size() - index * kChunkSize));
  }

  Places places_;
  Look look_;
};

}  // namespace juvenor
