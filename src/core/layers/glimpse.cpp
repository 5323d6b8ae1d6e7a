#include "core/layers/glimpse.h"

#include <algorithm>

namespace juvenor {
namespace {

class Glimpsed final : public PreparedSource {
 public:
  Glimpsed(PreparedSourcePointer fresh, std::span<const uint32_t> chunks, PreparedSourcePointer before)
      : fresh_(std::move(fresh)), chunks_(chunks.begin(), chunks.end()), before_(std::move(before)) {}
  const PreparedSourcePointer& before() const { return before_; }

  ChannelSet channels() const override {
    return before_ ? fresh_->channels() | before_->channels() : fresh_->channels();
  }
  bool thins() const override { return fresh_->thins(); }
  std::string note() const override { return before_ ? before_->note() : std::string(); }
  bool readsBelow() const override { return fresh_->readsBelow(); }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk& below) const override {
    return from(ask, Channel::Color, [&](const PreparedSource& source, const ChunkAsk& there) {
      return source.colors(there, below);
    });
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    return from(ask, channel, [&](const PreparedSource& source, const ChunkAsk& there) {
      return source.covers(channel, there);
    });
  }
  ScalarField::Pointer heights(Channel channel, const ChunkAsk& ask) const override {
    return from(ask, channel, [&](const PreparedSource& source, const ChunkAsk& there) {
      return source.heights(channel, there);
    });
  }
  bool markChanges(Channel channel, const PreparedSource& before, std::vector<char>& marks) const override {
    const auto* old = dynamic_cast<const Glimpsed*>(&before);
    if (old ? old->before_ != before_ : &before != before_.get()) return false;
    // where nothing was, nothing is outside of both
    if (channels().has(channel) != before.channels().has(channel) && before_) return false;
    for (const auto* chunks : {&chunks_, old ? &old->chunks_ : &chunks_})
      for (const uint32_t c : *chunks) marks[c] = 1;
    return true;
  }

 private:
  template <class Give>
  std::invoke_result_t<Give, const PreparedSource&, const ChunkAsk&> from(const ChunkAsk& ask,
                                                                          Channel channel, Give give) const {
    const auto at = std::ranges::lower_bound(chunks_, ask.index);
    if (at != chunks_.end() && *at == ask.index) {
      ChunkAsk there = ask;
      there.index = static_cast<size_t>(at - chunks_.begin());
      if (fresh_->channels().has(channel)) return give(*fresh_, there);
    } else if (before_ && before_->channels().has(channel)) {
      return give(*before_, ask);
    }
    return nullptr;
  }

  PreparedSourcePointer fresh_;
  std::vector<uint32_t> chunks_;
  PreparedSourcePointer before_;
};

}  // namespace

bool wantsGlimpse(const LayerSource& source, SurfaceMaps& maps) {
  const std::string key = source.grownKey();
  if (key.empty() || maps.size() <= kGlimpsedAbove || maps.hasDerived(key) || maps.hasGrown(key))
    return false;
  const auto needed = source.mapsNeeded();
  // how far areas reach is measured along the ladder of the whole
  return maps.hasLadder() && std::ranges::all_of(needed, [&](const MapSetting& setting) {
           return maps.known(setting) != nullptr;
         });
}

Glimpse::Glimpse(SurfaceMapsPointer whole, std::vector<uint32_t> chunks)
    : whole_(std::move(whole)),
      maps_(std::make_shared<SurfaceMaps>(whole_, cutOut(whole_->surface(), std::move(chunks)))) {}

bool Glimpse::isOf(const SurfaceMapsPointer& whole, std::span<const uint32_t> chunks) const {
  return whole == whole_ && std::ranges::equal(chunks, maps_->cut()->chunks);
}

PreparedSourcePointer Glimpse::of(const LayerSource& source) {
  auto made = caught([&] { return source.prepare(*maps_); });
  return made ? std::move(*made) : nullptr;
}

std::vector<uint32_t> chunksToGlimpse(std::span<const uint32_t> seen, size_t most) {
  const auto near = seen.first(std::min(most, seen.size()));
  std::vector<uint32_t> out(near.begin(), near.end());
  std::ranges::sort(out);
  return out;
}

PreparedSourcePointer glimpsed(PreparedSourcePointer fresh, std::span<const uint32_t> chunks,
                               PreparedSourcePointer before) {
  if (const auto* old = dynamic_cast<const Glimpsed*>(before.get())) before = old->before();
  return std::make_shared<Glimpsed>(std::move(fresh), chunks, std::move(before));
}

}  // namespace juvenor
