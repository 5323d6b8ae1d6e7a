// What lies below layers that look around, remembered chunk by chunk, so that the chunks near a dab are
// composited once and not once for each chunk that looks at them.
#pragma once

#include <mutex>
#include <unordered_map>

#include "core/layers/prepared_layer.h"

namespace juvenor {

class BelowChunks final : public LayerGround {
 public:
  /// `below`: the layers under the one that looks, bottom first. Those from place `from` on are what it looks
  /// at, by themselves; nothing: all, on skin.
  BelowChunks(PreparedStack below, const EncodedColor& bare, std::optional<size_t> from = {});

  ColorField::Pointer colors(size_t chunk) const override { return of<Channel::Color>(chunk); }
  CoverField::Pointer covers(Channel channel, size_t chunk) const override;
  ScalarField::Pointer heights(Channel channel, size_t chunk) const override;
  bool apart() const override { return from_.has_value(); }
  const LayerGround* under() const override { return under_.get(); }

  /// What lies below a channel's chunk; never null.
  template <Channel C>
  typename ChannelField<C>::Pointer of(size_t chunk) const;
  /// Takes over what another remembers of the same, but for `touched` chunks (ascending) and those that
  /// differ.
  void takeOver(const BelowChunks& other, size_t samples, std::span<const uint32_t> touched);

 private:
  template <class Indices>
  struct KnownOf;
  template <size_t... I>
  struct KnownOf<std::index_sequence<I...>> {
    using Type =
        std::tuple<std::unordered_map<uint32_t, typename ChannelField<static_cast<Channel>(I)>::Pointer>...>;
  };
  template <Channel C>
  auto& known() const {
    return std::get<static_cast<size_t>(C)>(known_);
  }

  PreparedStack stack_;
  EncodedColor bare_;
  std::optional<size_t> from_;
  std::shared_ptr<BelowChunks> under_;  // of what is apart
  mutable std::mutex mutex_;
  mutable KnownOf<std::make_index_sequence<kChannelCount>>::Type known_;
};

/// What the layer at a place looks at: all below it, or of a group that is put together by itself what lies
/// below it there, or what it hangs on with what hangs there already.
std::shared_ptr<BelowChunks> belowOf(const PreparedStack& stack, size_t at, const EncodedColor& bare);

/// The stack with every layer that looks around told what lies below it; what `before` remembers of the same
/// layers over the same skin is taken over, but for `touched` chunks (ascending): while a stroke goes on
/// fields are written in place, and no comparison tells that they changed.
PreparedStack linked(PreparedStack stack, const EncodedColor& bare, size_t samples,
                     const PreparedStack& before = {}, std::span<const uint32_t> touched = {});

/// Where the composite's colour may be another when a layer's is another in `chunks` (ascending): those, and
/// what layers above that look around make of them.
std::vector<uint32_t> feltChunks(const PreparedStack& stack, uint32_t layer, std::span<const uint32_t> chunks,
                                 size_t samples);

/// The channels of the composite a change of a layer shows in, when it is of its mask, or of its own `worked`
/// channels: those, and of what hangs on it whatever that brings.
ChannelSet feltChannels(const PreparedStack& stack, uint32_t layer, ChannelSet worked);

/// Sets the marks of chunks that look at marked ones.
void markLookers(const PreparedSource& source, std::vector<char>& marks);

}  // namespace juvenor
