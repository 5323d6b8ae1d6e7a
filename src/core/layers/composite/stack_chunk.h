// One chunk of one channel put together from a stack: layer on layer, groups by themselves or passing
// through, clipped layers on what they hang on. Groups and what hangs together begin from nothing, take their
// layers, and then meet what lies below as one layer (W3C Compositing and Blending Level 1, isolated groups,
// section 3.4).
#pragma once

#include "core/layers/composite/kept_chunks.h"
#include "core/layers/nesting.h"

namespace juvenor {

/// Whether a layer shows anything by itself, whatever lies around it.
inline bool shows(const PreparedLayer& p) {
  return p.source && contributes(*p.layer);
}
inline bool shows(const PreparedLayer& p, Channel channel) {
  return shows(p) && p.layer->strengths[channel] != 0 && p.source->channels().has(channel);
}
inline float amountOf(const PreparedLayer& p, Channel channel) {
  return p.layer->opacity * p.layer->strengths[channel];
}

inline ChannelMode modeOf(const PreparedLayer& p, Channel channel) {
  const ChannelMode mode = p.layer->modes[static_cast<size_t>(channel)];
  return hasMode(factsOf(channel).rule, mode) ? mode : ChannelMode::Usual;
}

/// What a channel reads where no layer covers.
template <Channel C>
constexpr typename ChannelField<C>::Value bareOf() {
  if constexpr (factsOf(C).rule == ChannelRule::Cover) return {factsOf(C).bare, 65535};
  return nothingOf<C>();
}
ColorChunk bareChunk(const EncodedColor& bare);
/// Where no layer shows: what is by itself has nothing there, skin what it reads (of colour this is none).
template <Channel C>
const typename ChannelField<C>::Pointer& emptyChunk(bool apart) {
  static const typename ChannelField<C>::Pointer nothing =
                                                     ChannelField<C>(kChunkSize, nothingOf<C>()).writable(0),
                                                 skin = ChannelField<C>(kChunkSize, bareOf<C>()).writable(0);
  return apart ? nothing : skin;
}

/// Who wants to see what each layer holds by itself.
struct OwnWatch {
  uint32_t only = 0;  ///< the id of the one layer that is asked about; 0: all
  std::function<void(const PreparedLayer&, const ColorField::Pointer&)> take;
};

template <Channel C>
class StackChunk {
 public:
  using ChunkOf = Chunk<factsOf(C).planes()>;
  using Pointer = std::shared_ptr<ChunkOf>;

  StackChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index,
             const OwnWatch* watch = nullptr)
      : stack_(stack), bare_(bare), index_(index), watch_(watch) {}
  /// With what is kept of it while the layer at a place is painted on: taken, and added to.
  StackChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index, KeptChunk<C>& kept,
             size_t painted)
      : stack_(stack), bare_(bare), index_(index), watch_(nullptr), kept_(&kept), painted_(painted) {}

  /// The layers before place `end` over bare skin; null where nothing but that is (never of colour).
  Pointer onSkin(size_t end) const;
  /// The layers from a place on by themselves, over those below it; null: nothing.
  Pointer apart(size_t from) const;
  /// One item by itself with its mask and amounts, as what hangs on it sees it.
  Pointer alone(const StackItem& item) const;

 private:
  // What a stretch of the stack came to so far. One that is apart began from nothing, over `outer` when that
  // is known. Of colour the last layers may still wait for more of their kind.
  struct Sheet {
    Pointer chunk;  // null: nothing yet; to be read by `settled` alone
    bool apart = false;
    Sheet* outer = nullptr;
    std::shared_ptr<TintAmounts> tints = nullptr;
  };
  const Pointer& settled(Sheet& sheet) const;
  ChunkOf& writable(Sheet& sheet) const;
  ColorChunk opaqueUnder(Sheet* sheet) const;
  bool wants(const Layer& layer) const { return watch_ && (watch_->only == 0 || watch_->only == layer.id); }
  bool wantsWithin(const StackItem& item) const;
  bool hidesAll(const PreparedLayer& p) const;
  void tell(size_t at, const Pointer& own) const;

  typename ChannelField<C>::Pointer ownOf(size_t at, Sheet& below) const;
  typename ChannelField<C>::Pointer keptOwnOf(size_t at, Sheet& below) const;
  size_t putBelow(size_t begin, size_t end, uint32_t parent, Sheet& sheet) const;
  size_t putStretch(size_t begin, size_t end, uint32_t parent, Sheet& sheet) const;
  typename ChannelField<C>::Pointer changedBelow(size_t at, Sheet& below) const;
  void changeHanging(const PreparedLayer& p, const ChunkOf& own, const ScalarChunk* mask, Sheet& inner,
                     const ScalarChunk* cover) const;
  void put(size_t begin, size_t end, uint32_t parent, Sheet& sheet) const;
  void putItem(const StackItem& item, Sheet& sheet) const;
  void putGroup(const StackItem& item, Sheet& sheet) const;
  void passThrough(const StackItem& item, Sheet& sheet) const;
  struct Cover {
    bool asked = false;
    std::shared_ptr<ScalarChunk> chunk = nullptr;
  };
  bool putOn(const StackItem& base, const StackItem& item, Sheet& inner, Cover& cover) const;
  void putHanging(const StackItem& base, size_t end, uint32_t parent, Sheet& sheet) const;
  void putBase(const StackItem& base, Sheet& inner, Sheet& below) const;
  Pointer within(const StackItem& group, Sheet& outer) const;
  void changeTo(Sheet& sheet, const ChunkOf& own, const ScalarChunk* mask, float amount) const;
  Sheet copied(const Sheet& sheet) const;
  void addTints(Sheet& sheet, const ChunkOf& own, const ScalarChunk* mask, float amount,
                BlendMode mode) const;
  void combine(Sheet& sheet, const ChunkOf& own, const PreparedLayer& p, BlendMode mode) const;

  const PreparedStack& stack_;
  const EncodedColor& bare_;
  size_t index_;
  const OwnWatch* watch_;
  KeptChunk<C>* kept_ = nullptr;
  size_t painted_ = 0;
};

/// What an item covers of a chunk, by whatever channel, with its mask and opacity: where layers that hang on
/// it show. Null: nothing. Of heights, where there is nothing else, any that are not none.
std::shared_ptr<ScalarChunk> coverOf(const PreparedStack& stack, const EncodedColor& bare,
                                     const StackItem& item, size_t index);

}  // namespace juvenor
