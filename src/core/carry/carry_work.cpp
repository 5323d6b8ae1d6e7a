#include "core/carry/carry_work.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/carry/carry_field.h"
#include "core/document/edits/share_again.h"
#include "core/layers/scaled_source.h"
#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

std::vector<uint32_t> newPartsOf(const PartSources& sources, uint32_t old) {
  std::vector<uint32_t> out;
  for (uint32_t p = 0; p < sources.size(); ++p)
    if (sources[p].contains(old)) out.push_back(p);
  return out;
}

class Carrying {
 public:
  Carrying(const CarryGround& ground, std::vector<std::string>& left)
      : g_(ground), unknown_(ground.fresh.surface, ground.from), left_(left) {
    const Similarity& toOld = g_.bend.motion();
    const Similarity back = toOld.inverse();
    skin_.turn = back.turn;
    skin_.scale = back.scale;
    skin_.shift = back.shift;
    skin_.parts = [this](uint32_t part) { return newPartsOf(g_.sources, part); };
    skin_.place = [this](const Vec3& place, uint32_t part) {
      if (const auto found = g_.places.find(place, part)) return *found;
      ++lostPlaces_;
      const auto parts = part == kNone ? std::vector<uint32_t>() : newPartsOf(g_.sources, part);
      return MovedPlace{g_.bend.toNew(place), parts.empty() ? kNone : parts.front()};
    };
  }

  template <int P>
  Field<P> field(const Field<P>& before) const {
    return carriedField(before, g_.from, unknown_);
  }
  const MovedSkin& skin() const { return skin_; }

  Outcome layer(LayerPointer& pointer) {
    Layer layer = *pointer;
    SourcePointer& source = sources_[layer.source];
    if (!source) {
      auto made = carried(layer);
      if (!made)
        return Error{fmt::format("the layer “{}” cannot be carried: {}", layer.name, made.error().what)};
      source = std::move(*made);
    }
    layer.source = source;
    layer.terms = scaledTerms(std::move(layer.terms), skin_.scale);
    layer.steps = scaledSteps(std::move(layer.steps), skin_.scale);
    if (layer.mask) layer.mask = field(*layer.mask);
    pointer = std::make_shared<Layer>(std::move(layer));
    return Done{};
  }

 private:
  Result<SourcePointer> carried(const Layer& layer) {
    if (const ChannelFields* before = layer.source->fields()) {
      ChannelFields after(g_.from.size());
      eachChannel([&](auto c) { after.get<c()>() = field(before->get<c()>()); });
      return paintedSource(std::move(after));
    }
    auto scaled = scaledSource(layer.source, skin_.scale);
    if (!scaled) return scaled;
    lostPlaces_ = 0;
    const SourcePointer moved = movedSource(**scaled, skin_);
    if (lostPlaces_ > 0)
      left_.push_back(
          fmt::format("“{}”: no skin for {} of its places; they stay in the air", layer.name, lostPlaces_));
    return moved ? moved : *scaled;
  }

  const CarryGround& g_;
  UnknownSkin unknown_;
  std::vector<std::string>& left_;
  MovedSkin skin_;
  size_t lostPlaces_ = 0;
  std::map<SourcePointer, SourcePointer> sources_;  ///< by those before
};

}  // namespace

Outcome carryWork(const CarryGround& ground, Document& out, std::vector<std::string>& left,
                  const Progress& progress) {
  Carrying carrying(ground, left);
  const MovedSkin& skin = carrying.skin();
  size_t layers = 0, done = 0;
  eachLayer(out, [&](LayerPointer&) { ++layers; });
  Outcome ok = Done{};
  eachLayer(out, [&](LayerPointer& pointer) {
    if (ok && !report(progress, static_cast<float>(done++) / static_cast<float>(layers)))
      ok = cancelledError();
    if (ok) ok = carrying.layer(pointer);
  });
  if (!ok) return ok;
  shareAgain(out);
  if (out.guard) out.guard = carrying.field(*out.guard);
  std::erase_if(out.landmarks, [&](Landmark& landmark) {
    const auto found = ground.places.find(landmark.position, kNone);
    if (!found)
      left.push_back(fmt::format("no skin for the landmark “{}”", landmark.key));
    else
      landmark.position = found->place;
    return !found;
  });
  for (Slide& slide : out.slides) slide = moved(std::move(slide), skin);
  if (out.mirror != MirrorPlane{}) out.mirror = moved(out.mirror, skin);
  out.hiddenParts.clear();
  for (uint32_t p = 0; p < ground.sources.size(); ++p)
    if (!ground.sources[p].empty() && std::ranges::includes(ground.old.hiddenParts, ground.sources[p]))
      out.hiddenParts.insert(p);
  ScalarField doubt(ground.from.size(), {0});
  for (size_t c = 0; c < doubt.chunkCount(); ++c) {
    const size_t begin = c * kChunkSize, end = std::min(ground.from.size(), begin + kChunkSize);
    if (std::all_of(ground.from.doubt.begin() + static_cast<std::ptrdiff_t>(begin),
                    ground.from.doubt.begin() + static_cast<std::ptrdiff_t>(end),
                    [](uint16_t d) { return d == 0; }))
      continue;
    auto chunk = doubt.writable(c);
    std::copy(ground.from.doubt.begin() + static_cast<std::ptrdiff_t>(begin),
              ground.from.doubt.begin() + static_cast<std::ptrdiff_t>(end), chunk->plane[0].begin());
    doubt.setChunk(c, std::move(chunk));
  }
  out.doubt = std::move(doubt);
  giveDoubt(out);
  return Done{};
}

}  // namespace juvenor
