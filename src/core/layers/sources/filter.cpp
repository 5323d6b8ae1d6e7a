// Filter: melts, sharpens or brushes the colours of all layers below it, within its mask, and brings none of
// its own.
#include "core/layers/filters/filter.h"

#include <fmt/format.h>

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

constexpr std::string_view kWays[] = {"melt", "sharpen", "painterly"};

// How much colours cover, as a grey of its own to be filtered as they are.
class AlphaBelow final : public BelowColors {
 public:
  explicit AlphaBelow(const BelowColors& colors) : colors_(colors) {}
  ColorField::Pointer at(size_t chunk) const override {
    const ColorField::Pointer from = colors_.at(chunk);
    auto out = std::make_shared<ColorChunk>();
    for (size_t p = 0; p < 3; ++p) out->plane[p] = from->plane[3];
    out->plane[3].fill(65535);
    return out;
  }

 private:
  const BelowColors& colors_;
};

class PreparedFilter final : public PreparedSource {
 public:
  PreparedFilter(ColorFilterPointer filter, float sharpen, std::string note)
      : filter_(std::move(filter)), sharpen_(sharpen), note_(std::move(note)) {}

  bool changesBelow() const override { return true; }
  bool looksAround() const override { return true; }
  std::span<const uint32_t> around(size_t chunk) const override { return filter_->around(chunk); }
  std::string note() const override { return note_; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk& below) const override {
    if (!ask.around) return nullptr;
    ColorField::Pointer melted = filter_->filtered(ask.index, *ask.around);
    if (!(sharpen_ > 0)) return ask.around->apart() ? withAlpha(*melted, ask) : melted;
    auto out = std::make_shared<ColorChunk>(below);
    for (size_t p = 0; p < 3; ++p)
      for (size_t i = 0; i < kChunkSize; ++i) {
        const auto here = static_cast<float>(below.plane[p][i]),
                   mean = static_cast<float>(melted->plane[p][i]);
        out->plane[p][i] = static_cast<uint16_t>(
            std::clamp(here + sharpen_ * (here - mean) + 0.5f, 0.f, static_cast<float>(below.plane[3][i])));
      }
    return out;
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    const auto* old = dynamic_cast<const PreparedFilter*>(&before);
    return old && old->filter_ == filter_ && old->sharpen_ == sharpen_;
  }

 private:
  // Of a layer or group by itself what it covers is filtered as its colours are.
  ColorField::Pointer withAlpha(const ColorChunk& melted, const ChunkAsk& ask) const {
    auto out = std::make_shared<ColorChunk>(melted);
    out->plane[3] = filter_->filtered(ask.index, AlphaBelow(*ask.around))->plane[0];
    for (size_t p = 0; p < 3; ++p)
      for (size_t i = 0; i < kChunkSize; ++i) out->plane[p][i] = std::min(out->plane[p][i], out->plane[3][i]);
    return out;
  }

  ColorFilterPointer filter_;
  float sharpen_;  // 0: what is melted or brushed itself
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
                       {"amount", filter_.amount},
                       {"bristle", filter_.bristle},
                       {"seed", filter_.seed}};
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
  SourcePointer refined(const Refined&) const override { return filterSource(filter_); }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(filter_.guides.size.maps); }
  bool isReady(SurfaceMaps& maps) const override { return maps.hasDerived(key()); }

  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    size_t bytes = 0;
    const auto made = maps.derived<ColorFilter>(key(), bytes, [&]() -> Result<ColorFilterPointer> {
      auto out = filterOn(maps, progress);
      if (out) bytes = (*out)->bytes();
      return out;
    });
    if (!made) return made.error();
    const bool tooFine = filter_.guides.size.size < maps.surface().spacing;
    return PreparedSourcePointer(std::make_shared<PreparedFilter>(
        *made, filter_.way == Filter::Way::Sharpen ? std::max(1e-6f, filter_.amount) : 0.f,
        tooFine ? "It is finer than points lie apart: hardly anything of it shows." : ""));
  }

 private:
  std::string key() const {
    const Guides& g = filter_.guides;
    if (filter_.way != Filter::Way::Painterly) return fmt::format("melt filter {}", g.size.size);
    return fmt::format("painterly {} {} {} {}", filter_.bristle, filter_.seed, textOf(toJson(g.direction)),
                       textOf(toJson(g.size)));
  }

  Result<ColorFilterPointer> filterOn(SurfaceMaps& maps, const Progress& progress) const {
    if (filter_.way != Filter::Way::Painterly) return meltFilter(maps, filter_.guides.size.size, progress);
    const auto directions = directionsOf(maps, filter_.guides.direction, Symmetry::Direction,
                                         [&](float f) { return report(progress, 0.4f * f); });
    if (!directions) return directions.error();
    const auto lengths = wishedSizes(maps, filter_.guides.size, progress);
    if (!lengths) return lengths.error();
    return painterlyFilter(maps, **directions, *lengths, filter_.bristle * filter_.guides.size.size,
                           filter_.seed, [&](float f) { return report(progress, 0.4f + 0.6f * f); });
  }

  Filter filter_;
};

constexpr std::string_view kFilterKeys[] = {"way",       "amount", "bristle", "seed",
                                            "direction", "size",   "soothed"};

Result<SourcePointer> readFilter(const nlohmann::json& parameters, size_t) {
  Filter out;
  GivenGuides guides;
  std::string way(kWays[0]);
  const Outcome ok = JsonFields(parameters)
                         .text("way", way)
                         .any("direction", guides.direction)
                         .any("size", guides.size)
                         .list("soothed", guides.soothed)
                         .number("amount", out.amount, 0, 2)
                         .number("bristle", out.bristle, 0.02f, 1)
                         .whole("seed", out.seed)
                         .done();
  if (!ok) return Error{"a filter layer: " + ok.error().what};
  const auto known = std::ranges::find(kWays, way);
  if (known == std::end(kWays)) return Error{fmt::format("a filter layer knows no way '{}'", way)};
  out.way = static_cast<Filter::Way>(known - std::begin(kWays));
  if (const Outcome read = readGuides(guides, out.guides); !read)
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

const SourceKind kFilterKind{"filter",         "Filter",    "Melts, sharpens or brushes the colours below",
                             Stratum::Pigment, -1,          kFilterKeys,
                             readFilter,       freshFilter, exampleFilter};

SourcePointer filterSource(Filter filter) {
  return std::make_shared<FilterLayer>(std::move(filter));
}

const Filter* filterOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const FilterLayer*>(&source);
  return layer ? &layer->filter() : nullptr;
}

}  // namespace juvenor
