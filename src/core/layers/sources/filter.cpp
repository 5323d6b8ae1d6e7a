// Filter: melts, sharpens, brushes or evens out all layers below it in some channels, within its mask, and
// brings nothing of its own.
#include <fmt/format.h>

#include <algorithm>

#include "core/json_fields.h"
#include "core/layers/filters/filter_chunk.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

constexpr std::string_view kWays[] = {"melt", "sharpen", "painterly", "even out", "swap detail"};

// How much wider than what is flattened it is looked at how it is all around.
constexpr float kAllAround = 6;

std::vector<uint32_t> unitedOf(std::span<const uint32_t> a, std::span<const uint32_t> b) {
  std::vector<uint32_t> out;
  std::ranges::set_union(a, b, std::back_inserter(out));
  return out;
}

class PreparedFilter final : public PreparedSource {
 public:
  PreparedFilter(FilterWork work, ChannelSet on, size_t chunks, std::string note)
      : work_(std::move(work)), on_(on), note_(std::move(note)) {
    if (!work_.wide) return;
    around_.resize(chunks);
    for (size_t c = 0; c < chunks; ++c) around_[c] = unitedOf(work_.near->around(c), work_.wide->around(c));
  }

  ChannelSet channels() const override { return on_; }
  bool changesBelow() const override { return true; }
  bool looksAround() const override { return true; }
  bool looksUnder() const override { return work_.way == Filter::Way::SwapDetail; }
  std::span<const uint32_t> around(size_t chunk) const override {
    return around_.empty() ? work_.near->around(chunk) : around_[chunk];
  }
  std::string note() const override { return note_; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk& below) const override {
    return ask.around ? filteredChunk<Channel::Color>(work_, ask.index, *ask.around, below) : nullptr;
  }
  CoverField::Pointer changedCovers(Channel channel, const ChunkAsk& ask,
                                    const CoverChunk& below) const override {
    CoverField::Pointer out;
    eachChannel([&](auto c) {
      if constexpr (factsOf(c()).rule == ChannelRule::Cover)
        if (channel == c() && ask.around) out = filteredChunk<c()>(work_, ask.index, *ask.around, below);
    });
    return out;
  }
  ScalarField::Pointer changedHeights(Channel, const ChunkAsk& ask, const ScalarChunk& below) const override {
    return ask.around ? filteredChunk<Channel::Relief>(work_, ask.index, *ask.around, below) : nullptr;
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    const auto* old = dynamic_cast<const PreparedFilter*>(&before);
    return old && old->work_ == work_;
  }

 private:
  FilterWork work_;
  ChannelSet on_;
  std::vector<std::vector<uint32_t>> around_;  // where two filters look around, those of both
  std::string note_;
};

class FilterLayer final : public LayerSource {
 public:
  explicit FilterLayer(Filter filter) : filter_(std::move(filter)) {}
  const Filter& filter() const { return filter_; }

  const SourceKind& kind() const override { return kFilterKind; }
  std::string remark() const override { return std::string(kWays[static_cast<size_t>(filter_.way)]); }
  nlohmann::json parameters() const override {
    nlohmann::json out{{"way", kWays[static_cast<size_t>(filter_.way)]},
                       {"on", keysOf(filter_.on)},
                       {"broad", filter_.broad},
                       {"seed", filter_.seed}};
    addMembers(out, filter_);
    addGuides(filter_.guides, out);
    return out;
  }
  /// Only what is brushed has a way to lie.
  const Guides* guides() const override {
    return filter_.way == Filter::Way::Painterly ? &filter_.guides : nullptr;
  }
  SourcePointer withGuides(Guides guides) const override {
    Filter out = filter_;
    out.guides = std::move(guides);
    return filterSource(std::move(out));
  }
  ChannelSet channels() const override { return filter_.on; }
  SourcePointer refined(const Refined&) const override { return filterSource(filter_); }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(filter_.guides.size.maps); }
  bool isReady(SurfaceMaps& maps) const override {
    if (filter_.way == Filter::Way::Painterly) return hasPainterlyFilter(maps, pulling());
    return hasMeltFilter(maps, size()) &&
           (filter_.way != Filter::Way::EvenOut || hasMeltFilter(maps, kAllAround * size()));
  }

  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    FilterWork work{filter_.way, filter_.amount, filter_.broad, nullptr, nullptr};
    const bool pulls = filter_.way == Filter::Way::Painterly;
    const auto near = pulls ? painterlyFilter(maps, pulling(), progress) : meltFilter(maps, size(), progress);
    if (!near) return near.error();
    work.near = *near;
    if (filter_.way == Filter::Way::EvenOut) {
      const auto wide = meltFilter(maps, kAllAround * size(), progress);
      if (!wide) return wide.error();
      work.wide = *wide;
    }
    const bool tooFine = size() < maps.surface().spacing;
    return PreparedSourcePointer(std::make_shared<PreparedFilter>(
        std::move(work), filter_.on, chunkCount(maps.size()),
        tooFine ? "It is finer than points lie apart: hardly anything of it shows." : ""));
  }

 private:
  float size() const { return filter_.guides.size.size; }
  Pulling pulling() const {
    return {filter_.guides.direction, filter_.guides.size, filter_.bristle * size(), filter_.seed};
  }

  Filter filter_;
};

constexpr Member<Filter> kFilterMembers[] = {
    {{"amount", "Amount", "How much what differs is driven apart, flattened, or shown", MemberUnit::Part, 0,
      2},
     [](Filter& f) -> float& { return f.amount; }},
    {{"bristle", "Bristle", "The width of what is pulled alike, by the reach", MemberUnit::Part, 0.02f, 1},
     [](Filter& f) -> float& { return f.bristle; }},
};

const std::vector<std::string_view> kFilterKeys =
    keysWith<Filter>({"way", "on", "broad", "seed", "direction", "size", "soothed"});

Result<SourcePointer> readFilter(const nlohmann::json& parameters, size_t) {
  Filter out;
  GivenGuides guides;
  const nlohmann::json* on = nullptr;
  std::string way(kWays[0]);
  JsonFields fields(parameters);
  fields.text("way", way)
      .any("direction", guides.direction)
      .any("size", guides.size)
      .list("soothed", guides.soothed)
      .list("on", on)
      .flag("broad", out.broad)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"a filter layer: " + ok.error().what};
  const auto known = std::ranges::find(kWays, way);
  if (known == std::end(kWays)) return Error{fmt::format("a filter layer knows no way '{}'", way)};
  out.way = static_cast<Filter::Way>(known - std::begin(kWays));
  if (const Outcome read = readGuides(guides, out.guides); !read)
    return Error{"a filter layer: " + read.error().what};
  if (const Outcome read = readChannelSet(on, out.on); !read)
    return Error{"a filter layer: " + read.error().what};
  return filterSource(std::move(out));
}

SourcePointer freshFilter(const Surface& surface, const EncodedColor&) {
  Filter out;
  out.guides = usualGuides(surface.bounds.diagonal());
  out.guides.size.size = std::max(0.005f * surface.bounds.diagonal(), 2 * surface.spacing);
  return filterSource(std::move(out));
}

SourcePointer exampleFilter(const Surface&) {
  Filter out;
  out.way = Filter::Way::Sharpen;
  out.guides.size.size = 0.12f;
  out.amount = 2;
  return filterSource(std::move(out));
}

}  // namespace

template <>
std::span<const Member<Filter>> membersOf() {
  return kFilterMembers;
}

const SourceKind kFilterKind{
    "filter",          "Filter",    "Melts, sharpens, brushes or evens out what lies below",
    Stratum::Pigment,  -1,          kFilterKeys,
    readFilter,        freshFilter, exampleFilter,
    nullptr,           {},          {},
    allMembers<Filter>};

SourcePointer filterSource(Filter filter) {
  return std::make_shared<FilterLayer>(std::move(filter));
}

const Filter* filterOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const FilterLayer*>(&source);
  return layer ? &layer->filter() : nullptr;
}

}  // namespace juvenor
