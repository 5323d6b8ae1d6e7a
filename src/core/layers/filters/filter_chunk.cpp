#include "core/layers/filters/filter_chunk.h"

#include <algorithm>

namespace juvenor {
namespace {

// The plane that says how much the others cover; -1: none.
template <Channel C>
constexpr int kAlpha = factsOf(C).planes() == 4   ? 3
                       : factsOf(C).planes() == 2 ? 1
                                                  : -1;
template <Channel C>
constexpr int kValues = factsOf(C).planes() == 4 ? 3 : 1;
template <Channel C>
using ChunkOf = Chunk<factsOf(C).planes()>;

template <Channel C>
typename ChannelField<C>::Pointer chunkOf(const LayerGround& ground, size_t chunk) {
  if constexpr (factsOf(C).rule == ChannelRule::Blend)
    return ground.colors(chunk);
  else if constexpr (factsOf(C).rule == ChannelRule::Cover)
    return ground.covers(C, chunk);
  else
    return ground.heights(C, chunk);
}

// Some planes of a channel of what lies below, from one on.
template <Channel C>
class SomePlanes final : public PlaneGround {
 public:
  SomePlanes(const LayerGround& ground, int first, int count)
      : ground_(ground), first_(first), count_(count) {}
  ChunkPlanes at(size_t chunk) const override {
    const auto from = chunkOf<C>(ground_, chunk);
    ChunkPlanes out{from, {}};
    for (int k = 0; k < count_; ++k)
      out.plane[static_cast<size_t>(k)] = from->plane[static_cast<size_t>(first_ + k)].data();
    return out;
  }

 private:
  const LayerGround& ground_;
  int first_, count_;
};

// All of a channel filtered, what it covers too.
template <Channel C>
std::shared_ptr<ChunkOf<C>> through(const PlaneFilter& filter, size_t index, const LayerGround& ground) {
  constexpr int kPlanes = factsOf(C).planes();
  auto out = std::make_shared<ChunkOf<C>>();
  constexpr int kAtOnce = std::min(kPlanes, 3);
  const auto first = filter.filtered(index, SomePlanes<C>(ground, 0, kAtOnce));
  for (size_t p = 0; p < kAtOnce; ++p) out->plane[p] = first->plane[p];
  if constexpr (kPlanes == 4) {
    if (ground.apart())
      out->plane[3] = filter.filtered(index, SomePlanes<C>(ground, 3, 1))->plane[0];
    else
      out->plane[3].fill(65535);
  }
  if constexpr (kAlpha<C> >= 0)
    for (size_t p = 0; p < kValues<C>; ++p)
      for (size_t i = 0; i < kChunkSize; ++i)
        out->plane[p][i] = std::min(out->plane[p][i], out->plane[static_cast<size_t>(kAlpha<C>)][i]);
  return out;
}

// How much is covered at a place of a chunk, 0…1.
template <Channel C>
float alphaAt(const ChunkOf<C>& chunk, size_t i) {
  if constexpr (kAlpha<C> >= 0)
    return static_cast<float>(chunk.plane[static_cast<size_t>(kAlpha<C>)][i]) * (1.f / 65535);
  return 1;
}

// A value at a place at full cover, 0…65535; 0 where nothing is.
template <Channel C>
float straightAt(const ChunkOf<C>& chunk, size_t p, size_t i) {
  const float alpha = alphaAt<C>(chunk, i);
  return alpha > 0 ? static_cast<float>(chunk.plane[p][i]) / alpha : 0;
}

// `below` with other values at full cover, covering as it does: `valueOf(plane, sample)`, 0…65535.
template <Channel C, class ValueOf>
std::shared_ptr<ChunkOf<C>> withValues(const ChunkOf<C>& below, ValueOf valueOf) {
  auto out = std::make_shared<ChunkOf<C>>(below);
  for (size_t p = 0; p < kValues<C>; ++p)
    for (size_t i = 0; i < kChunkSize; ++i) {
      const float alpha = alphaAt<C>(below, i);
      if (alpha > 0)
        out->plane[p][i] = static_cast<uint16_t>(std::clamp(valueOf(p, i), 0.f, 65535.f) * alpha + 0.5f);
    }
  return out;
}

// What differs from the mean around, more so.
template <Channel C>
std::shared_ptr<ChunkOf<C>> sharpened(const FilterWork& work, const ChunkOf<C>& mean,
                                      const ChunkOf<C>& below) {
  auto out = std::make_shared<ChunkOf<C>>(below);
  for (size_t p = 0; p < kValues<C>; ++p)
    for (size_t i = 0; i < kChunkSize; ++i) {
      const auto here = static_cast<float>(below.plane[p][i]), around = static_cast<float>(mean.plane[p][i]);
      const float most = 65535 * alphaAt<C>(below, i);
      out->plane[p][i] =
          static_cast<uint16_t>(std::clamp(here + work.amount * (here - around) + 0.5f, 0.f, most));
    }
  return out;
}

template <Channel C>
std::shared_ptr<ChunkOf<C>> evened(const FilterWork& work, size_t index, const LayerGround& ground,
                                   const ChunkOf<C>& near, const ChunkOf<C>& below) {
  const auto wide = through<C>(*work.wide, index, ground);
  return withValues<C>(below, [&](size_t p, size_t i) {
    return straightAt<C>(below, p, i) +
           work.amount * (straightAt<C>(*wide, p, i) - straightAt<C>(near, p, i));
  });
}

// Heights add up, so of those what the ground has already is taken off again.
template <Channel C>
std::shared_ptr<ChunkOf<C>> swapped(const FilterWork& work, size_t index, const LayerGround& ground,
                                    const ChunkOf<C>& near, const ChunkOf<C>& below) {
  if (!ground.under()) return nullptr;
  const auto under = chunkOf<C>(*ground.under(), index);
  const auto underNear = through<C>(*work.near, index, *ground.under());
  return withValues<C>(below, [&](size_t p, size_t i) {
    const float own = straightAt<C>(below, p, i), ownBroad = straightAt<C>(near, p, i);
    const float lies = straightAt<C>(*under, p, i), liesBroad = straightAt<C>(*underNear, p, i);
    const float out =
        work.broad ? ownBroad + work.amount * (lies - liesBroad) : liesBroad + work.amount * (own - ownBroad);
    return factsOf(C).rule == ChannelRule::Add ? out - lies + static_cast<float>(kLevel) : out;
  });
}

}  // namespace

template <Channel C>
std::shared_ptr<Chunk<factsOf(C).planes()>> filteredChunk(const FilterWork& work, size_t index,
                                                          const LayerGround& ground,
                                                          const Chunk<factsOf(C).planes()>& below) {
  auto near = through<C>(*work.near, index, ground);
  switch (work.way) {
    case Filter::Way::Sharpen:
      return sharpened<C>(work, *near, below);
    case Filter::Way::EvenOut:
      return evened<C>(work, index, ground, *near, below);
    case Filter::Way::SwapDetail:
      return swapped<C>(work, index, ground, *near, below);
    case Filter::Way::Melt:
    case Filter::Way::Painterly:
      return near;
  }
  return near;
}

#define JUVENOR_FILTERED(C)                                                \
  template std::shared_ptr<ChunkOf<Channel::C>> filteredChunk<Channel::C>( \
      const FilterWork&, size_t, const LayerGround&, const ChunkOf<Channel::C>&);
JUVENOR_EACH_CHANNEL(JUVENOR_FILTERED)
#undef JUVENOR_FILTERED

}  // namespace juvenor
