// What of a chunk does not change while one layer is painted on, or is given another opacity again and again:
// what lies below it comes to, at every level of groups it lies in, and what the layers above it hold by
// themselves. So a dab costs what it changes, however high the stack is.
#pragma once

#include <map>
#include <memory>
#include <mutex>
#include <unordered_map>

#include "core/layers/composite/tint_chunk.h"
#include "core/layers/prepared_layer.h"

namespace juvenor {

/// Of one channel of one chunk. Only one thread at a time may work with it.
template <Channel C>
struct KeptChunk {
  using Pointer = typename ChannelField<C>::Pointer;
  /// What layers come to: nothing yet where it is null, and films of skin's own that are still to be laid.
  struct Below {
    Pointer chunk;
    std::shared_ptr<const TintAmounts> tints;
  };
  /// By the group (0: the stack) what the layers below the one that is painted on, or below the group it lies
  /// in, come to.
  std::map<uint32_t, Below> below;
  /// By its place what a layer above holds.
  std::map<size_t, Pointer> own;
};

class KeptChunks {
 public:
  /// For strokes on the layer with the id `painted`.
  explicit KeptChunks(uint32_t painted) : painted_(painted) {}

  /// Whether what is kept holds for a stack: no layer of it takes its mask from another.
  static bool holdsFor(const PreparedStack& stack);
  uint32_t painted() const { return painted_; }
  /// Safe from any thread; of each channel and chunk only one may hold it at a time.
  template <Channel C>
  KeptChunk<C>& of(size_t chunk);
  /// Lets go of what is too much for a stack of so many layers; nobody may hold any meanwhile.
  void trim(size_t layers) {
    if (chunks_.size() * (layers + 1) > kMostSheets) chunks_.clear();
  }

 private:
  // At most a quarter of a gigabyte, where every layer makes its chunks for itself.
  static constexpr size_t kMostSheets = 8192;
  template <class Indices>
  struct AllOf;
  template <size_t... I>
  struct AllOf<std::index_sequence<I...>> {
    using Type = std::tuple<KeptChunk<static_cast<Channel>(I)>...>;
  };
  using All = AllOf<std::make_index_sequence<kChannelCount>>::Type;

  uint32_t painted_;
  std::mutex mutex_;
  std::unordered_map<size_t, std::unique_ptr<All>> chunks_;
};

template <Channel C>
KeptChunk<C>& KeptChunks::of(size_t chunk) {
  const std::lock_guard hold(mutex_);
  auto& all = chunks_[chunk];
  if (!all) all = std::make_unique<All>();
  return std::get<static_cast<size_t>(C)>(*all);
}

/// The id of the one layer that differs between two stacks, when what it holds by itself and where it stands
/// are the same and only how it is laid is not (opacity, strengths, modes, whether it is hidden): what is
/// kept of other layers for it holds on. 0: more differs, or nothing.
uint32_t tunedLayer(const PreparedStack& before, const PreparedStack& now);

}  // namespace juvenor
