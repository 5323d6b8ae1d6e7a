// What lies below layers that look around, remembered chunk by chunk, so that the chunks near a dab are
// composited once and not once for each chunk that looks at them.
#pragma once

#include <mutex>
#include <unordered_map>

#include "core/layers/prepared_layer.h"

namespace juvenor {

class BelowChunks final : public BelowColors {
 public:
  /// `below`: all layers under the one that looks, bottom first.
  BelowChunks(PreparedStack below, const EncodedColor& bare) : stack_(std::move(below)), bare_(bare) {}

  ColorField::Pointer at(size_t chunk) const override;
  const PreparedStack& stack() const { return stack_; }
  /// Takes over what another remembers, but for those chunks (ascending).
  void takeOver(const BelowChunks& other, std::span<const uint32_t> but);

 private:
  PreparedStack stack_;
  EncodedColor bare_;
  mutable std::mutex mutex_;
  mutable std::unordered_map<uint32_t, ColorField::Pointer> known_;
};

/// The stack with every layer that looks around told what lies below it; what `before` remembers of the same
/// layers over the same skin is taken over, but for `touched` chunks (ascending): while a stroke goes on
/// fields are written in place, and no comparison tells that they changed.
PreparedStack linked(PreparedStack stack, const EncodedColor& bare, size_t samples,
                     const PreparedStack& before = {}, std::span<const uint32_t> touched = {});

/// Where the composite's colour may be another when a layer's is another in `chunks` (ascending): those, and
/// what layers above that look around make of them.
std::vector<uint32_t> feltChunks(const PreparedStack& stack, uint32_t layer, std::span<const uint32_t> chunks,
                                 size_t samples);

/// Sets the marks of chunks that look at marked ones.
void markLookers(const PreparedSource& source, std::vector<char>& marks);

}  // namespace juvenor
