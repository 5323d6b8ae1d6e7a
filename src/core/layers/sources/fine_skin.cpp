// Fine skin: lozenges between lines that lie across the pull of the skin, pores where lines meet, and longer
// folds, region by region. Which line, corner and fold is next to every sample is worked out once and kept as
// long as guides, regions and arrangement stay; the look is read from it. Pores, lozenges and folds are how
// the relief of skin is commonly described; how regions differ is common practice, the figures are this
// program's own.
#include <fmt/format.h>

#include <cmath>

#include "core/color/color_json.h"
#include "core/color/moved_color.h"
#include "core/layers/sources/fine_look.h"
#include "core/layers/sources/prepared_places.h"
#include "core/layers/sources/registry.h"
#include "core/noise/even_noise.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr SkinLike kLikes[] = {{"cheek", "Cheek", 1.15f, 0.7f, 1.7f, 0.3f},
                               {"brow", "Brow", 1, 0.8f, 0.8f, 2},
                               {"lip", "Lip", 0.9f, 0.5f, 0, 2.6f},
                               {"neck", "Neck", 1.5f, 1.5f, 0.25f, 1.4f},
                               {"palm", "Palm", 0.85f, 0.4f, 0.15f, 2.4f}};

struct GrownSkin {
  std::vector<FinePlace> places;
  float sparse = 0;  // 0…1: the part of the skin with too few points

  size_t bytes() const { return bytesHeld(places); }
  std::string toKept() const {
    std::string out;
    keepArray(std::span(&sparse, 1), out);
    keepArray(std::span(places), out);
    return out;
  }
  static std::optional<GrownSkin> fromKept(std::string_view bytes, size_t samples) {
    GrownSkin out;
    std::vector<float> sparse;
    if (!takeArray(bytes, 1, sparse) || !takeArray(bytes, samples, out.places)) return std::nullopt;
    if (!(sparse[0] >= 0 && sparse[0] <= 1)) return std::nullopt;
    out.sparse = sparse[0];
    return out;
  }
};
std::string noteOf(const GrownSkin& skin) {
  if (skin.sparse < 0.01f) return {};
  return fmt::format(
      "Points are too few for lines this fine on {:.0f} % of the skin; their mean gloss lies there. Add "
      "points, or make it larger.",
      100 * skin.sparse);
}

using PreparedFine = PreparedPlaces<FinePlace, FineLook>;

uint8_t to8(float v) {
  return static_cast<uint8_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f);
}

// How far samples lie apart around one, without what chance does to it alone.
float apartAt(const Surface& surface, size_t s) {
  float area = surface.areas[s], count = 1;
  for (const uint32_t n : surface.neighborsOf(s)) {
    area += surface.areas[n];
    ++count;
  }
  return std::sqrt(area / count);
}

// What regions make of the skin: the size in place, the rest into places. Where several meet, each counts by
// its weight.
void addRegions(SurfaceMaps& maps, const std::vector<HueZone>& regions, std::vector<float>& sizes,
                std::vector<FinePlace>& places) {
  if (regions.empty()) return;
  std::vector<std::array<float, 5>> sums(sizes.size());  // weight, and differences by weight
  for (const HueZone& zone : regions) {
    const SkinLike* like = skinLike(zone.like);
    if (!like) continue;
    const ZoneInfluencePointer influence = influenceOf(maps, zone, 0);
    const std::array differs{1.f, like->size - 1, like->lines - 1, like->pores - 1, like->creases - 1};
    for (size_t i = 0; i < influence->samples.size(); ++i)
      for (size_t k = 0; k < differs.size(); ++k)
        sums[influence->samples[i]][k] += zone.strength * influence->values[i] * differs[k];
  }
  parallel(sizes.size(), [&](size_t s) {
    const auto& sum = sums[s];
    if (!(sum[0] > 0)) return;
    const float share = 1 / std::max(1.f, sum[0]);
    sizes[s] *= 1 + share * sum[1];
    for (size_t k = 0; k < 3; ++k)
      places[s].like[k] = static_cast<uint8_t>(std::clamp(64 * (1 + share * sum[k + 2]), 0.f, 255.f));
  });
}

class FineSkinLayer final : public PatternLayer {
 public:
  explicit FineSkinLayer(FineSkin skin)
      : PatternLayer(skin.guides), skin_(std::move(skin)), regions_{skin_.regions, 0} {}
  const FineSkin& skin() const { return skin_; }

  const SourceKind& kind() const override { return kFineSkinKind; }
  nlohmann::json parameters() const override;
  ChannelSet channels() const override {
    return ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief;
  }
  const Guides* guides() const override { return &skin_.guides; }
  SourcePointer withGuides(Guides guides) const override {
    FineSkin out = skin_;
    out.guides = std::move(guides);
    return fineSkinSource(std::move(out));
  }
  const ZoneSet* zones() const override { return &regions_; }
  SourcePointer withZones(ZoneSet set) const override {
    FineSkin out = skin_;
    out.regions = std::move(set.zones);
    for (HueZone& zone : out.regions)
      if (!skinLike(zone.like)) zone.like = kLikes[0].key;
    return fineSkinSource(std::move(out));
  }

 private:
  Result<PreparedSourcePointer> grown(SurfaceMaps& maps, const Progress& progress) const override {
    const auto places = maps.grown<GrownSkin>(grownKey(), [&] { return grownSkin(maps, progress); });
    if (!places) return places.error();
    return PreparedSourcePointer(
        std::make_shared<PreparedFine>(PreparedFine::Places(*places, &(*places)->places),
                                       FineLook(skin_, maps.reliefStep()), words(noteOf(**places))));
  }

  std::string growsBy() const override {
    return fmt::format("{} {} {} {} {} {} {}", skin_.stretch, skin_.even, skin_.apart, skin_.seed,
                       textOf(toJson(skin_.guides.direction)), textOf(growthOf(skin_.guides.size)),
                       textOf(withoutNames(toJson(regions_)["zones"])));
  }

  Result<GrownSkin> grownSkin(SurfaceMaps& maps, const Progress& progress) const;
  Outcome addCells(SurfaceMaps& maps, std::span<const Vec3> pull, std::span<const float> sizes,
                   GrownSkin& out, const Progress& progress) const;
  Outcome addCreases(SurfaceMaps& maps, std::span<const Vec3> pull, std::span<const float> sizes,
                     GrownSkin& out, const Progress& progress) const;

  FineSkin skin_;
  ZoneSet regions_;
};

// Where points are too few there are no cells at all.
Result<GrownSkin> FineSkinLayer::grownSkin(SurfaceMaps& maps, const Progress& progress) const {
  const auto stage = [&](float from, float to) -> Progress {
    return [&progress, from, to](float f) { return report(progress, from + f * (to - from)); };
  };
  const Surface& surface = maps.surface();
  GrownSkin out;
  out.places.resize(surface.size());
  auto sizes = wishedSizes(maps, skin_.guides.size, progress);
  if (!sizes) return sizes.error();
  addRegions(maps, skin_.regions, *sizes, out.places);
  parallel(surface.size(), [&](size_t s) {
    const float apart = apartAt(surface, s);
    const float shown = std::clamp(4 * ((*sizes)[s] / (kLeastSpacings * apart) - 0.75f), 0.f, 1.f);
    out.places[s].shown = to8(shown);
    if (out.places[s].shown == 0) (*sizes)[s] = 0;
    out.places[s].soft = to8(1.6f * apart / std::max((*sizes)[s], apart));
  });
  double all = 0, bare = 0;
  for (size_t s = 0; s < surface.size(); ++s) {
    all += static_cast<double>(surface.areas[s]);
    bare += static_cast<double>(surface.areas[s]) * (255 - out.places[s].shown) / 255;
  }
  out.sparse = all > 0 ? static_cast<float>(bare / all) : 0;
  if (std::ranges::max(*sizes) <= 0) return out;
  const auto pull = directionsOf(maps, skin_.guides.direction, Symmetry::Direction, stage(0, 0.25f));
  if (!pull) return pull.error();
  if (const Outcome ok = addCells(maps, **pull, *sizes, out, stage(0.25f, 0.75f)); !ok) return ok.error();
  if (const Outcome ok = addCreases(maps, **pull, *sizes, out, stage(0.75f, 1)); !ok) return ok.error();
  return out;
}

Outcome FineSkinLayer::addCells(SurfaceMaps& maps, std::span<const Vec3> pull, std::span<const float> sizes,
                                GrownSkin& out, const Progress& progress) const {
  const float wide = std::sqrt(skin_.stretch);
  std::vector<float> widths(sizes.begin(), sizes.end());
  float finest = std::numeric_limits<float>::max();
  for (float& w : widths) {
    w *= wide;
    if (w > 0) finest = std::min(finest, w / skin_.stretch);
  }
  CellSetting setting;
  setting.stretch = 1 / skin_.stretch;
  setting.rounds = 1 + static_cast<int>(std::floor(3 * skin_.even));
  setting.thrown = false;
  setting.seed = skin_.seed;
  // few nodes to a cell do: which is the nearest is looked at among all around
  const CellGround ground = cellGround(maps.surface(), maps.ladder(), pull, widths, 2 * finest);
  const auto cells = skinCells(maps, ground, setting, progress);
  if (!cells) return cells.error();
  const auto places = tiledPlaces(maps.surface(), ground, *cells, progress);
  if (!places) return places.error();
  parallel(out.places.size(), [&](size_t s) {
    const CellPlaces::Place& from = places->of[s];
    FinePlace& to = out.places[s];
    if (from.cell == kNone) {
      to.shown = 0;
      return;
    }
    to.edge = to8(static_cast<float>(from.edge) / CellPlaces::kEdge);
    to.corner = from.corner;
    to.cornerKey = from.cornerKey;
    // by where it lies from the middle one knows which way the next line runs
    const float along = static_cast<float>(from.along), across = static_cast<float>(from.across);
    to.across = to8(along * along / std::max(1.f, along * along + across * across));
  });
  return Done{};
}

Outcome FineSkinLayer::addCreases(SurfaceMaps& maps, std::span<const Vec3> pull, std::span<const float> sizes,
                                  GrownSkin& out, const Progress& progress) const {
  const Surface& surface = maps.surface();
  std::vector<float> periods(sizes.begin(), sizes.end());
  float finest = std::numeric_limits<float>::max();
  constexpr float kCoarse = 1.6f;  // folds bend by noise anyway
  const float none = skin_.apart * skin_.guides.size.size;
  for (float& p : periods) {
    p = p > 0 ? skin_.apart * p : none;
    finest = std::min(finest, p);
  }
  const auto stripes = stripeField(surface, maps.ladder(), pull, periods, kCoarse * finest, progress);
  if (!stripes) return stripes.error();
  const Eigen::Matrix3f back = surface.turn.transpose();
  parallel(
      chunkCount(surface.size()),
      [&](size_t c) {
        const size_t first = c * kChunkSize, end = std::min(surface.size(), first + kChunkSize);
        PlaceRow at(end - first);
        for (size_t s = first; s < end; ++s) at.set(s - first, back * surface.positions[s]);
        const std::vector<float> fades = evenNoise(NoiseKind::Cloud, at, 2 * none, {}, skin_.seed * 31 + 1);
        for (size_t s = first; s < end; ++s) {
          constexpr float kCreaseBend = 0.35f;
          float turn = static_cast<float>(stripes->phases[s]) / 65536 + kCreaseBend * fades[s - first];
          turn -= std::floor(turn);
          out.places[s].crease = to8(2 * std::abs(turn - 0.5f));
          out.places[s].creaseKey = to8(fades[s - first]);
        }
      },
      1);
  return Done{};
}

nlohmann::json FineSkinLayer::parameters() const {
  const FineSkin& s = skin_;
  nlohmann::json out{{"regions", toJson(regions_)["zones"]}, {"color", toJson(s.color)}, {"seed", s.seed}};
  addMembers(out, s);
  addGuides(s.guides, out);
  return out;
}

constexpr Member<FineSkin> kFineSkinMembers[] = {
    {{"stretch", "Long", "Lozenges: how much longer they are across the pull of the skin", MemberUnit::Plain,
      1, 3},
     [](FineSkin& s) -> float& { return s.stretch; }},
    {{"even", "Even", "0 as they fall, 100 all alike"}, [](FineSkin& s) -> float& { return s.even; }},
    {{"lines", "Lines", "How deep and wide the lines between lozenges are"},
     [](FineSkin& s) -> float& { return s.lines; }},
    {{"pores", "Pores", "How many meetings of lines have a pore, and how wide it is"},
     [](FineSkin& s) -> float& { return s.pores; }},
    {{"creases", "Folds", "How deep and whole longer folds across the pull are"},
     [](FineSkin& s) -> float& { return s.creases; }},
    {{"apart", "Folds apart", "From one fold to the next, by the size", MemberUnit::Plain, 2, 12},
     [](FineSkin& s) -> float& { return s.apart; }},
    {{"depth", "Depth", "Of a line; pores and folds are deeper by themselves", MemberUnit::Length, -kEndless,
      kEndless, 0, 0.002f},
     [](FineSkin& s) -> float& { return s.depth; }},
    {{"gloss", "Gloss", "How wet the skin is on average"}, [](FineSkin& s) -> float& { return s.gloss; }},
    {{"sheen", "Sheen", "How much glossier the tops are than lines and pores"},
     [](FineSkin& s) -> float& { return s.sheen; }},
    {{"gloss-cover", "Gloss covers", "How much of that it brings; 0 leaves the skin's own"},
     [](FineSkin& s) -> float& { return s.glossCover; }},
    {{"cover", "Colour covers", "How much colour gathers in lines and pores"},
     [](FineSkin& s) -> float& { return s.cover; }},
};

const std::vector<std::string_view> kFineKeys =
    keysWith<FineSkin>({"direction", "size", "soothed", "regions", "color", "seed"});

Result<SourcePointer> readFineSkin(const nlohmann::json& parameters, size_t) {
  FineSkin out;
  GivenGuides guides;
  const nlohmann::json* regions = nullptr;
  JsonFields fields(parameters);
  fields.any("direction", guides.direction)
      .any("size", guides.size)
      .list("soothed", guides.soothed)
      .list("regions", regions)
      .value("color", out.color, kJsonColor)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"fine skin: " + ok.error().what};
  if (const Outcome read = readGuides(guides, out.guides); !read)
    return Error{"fine skin: " + read.error().what};
  if (regions) {
    auto read = zoneSetFrom({{"zones", *regions}});
    if (!read) return Error{"fine skin: " + read.error().what};
    for (const HueZone& zone : read->zones)
      if (!skinLike(zone.like))
        return Error{
            fmt::format("fine skin: the region '{}' is like '{}', which is not known", zone.name, zone.like)};
    out.regions = std::move(read->zones);
  }
  return fineSkinSource(std::move(out));
}

// As fine as points can show, a millimetre and a half on a head of common size at the finest.
SourcePointer freshFineSkin(const Surface& surface, const EncodedColor& color) {
  FineSkin out;
  out.guides = usualGuides(surface.bounds.diagonal());
  out.guides.size.size =
      std::max(0.0035f * surface.bounds.diagonal(), 1.1f * kLeastSpacings * surface.spacing);
  out.depth = 0.06f * out.guides.size.size;
  out.color = movedColor(color, -0.15f, 0.1f, -5);
  return fineSkinSource(std::move(out));
}

SourcePointer exampleFineSkin(const Surface&) {
  FineSkin out;
  out.guides.direction.form = 1;
  out.guides.direction.flow = Vec3(0.3f, 1, 0).normalized();
  out.guides.size.size = 0.24f;
  out.depth = 0.03f;
  out.cover = 0.7f;
  out.creases = 0.5f;
  return fineSkinSource(std::move(out));
}

constexpr AreaFacts kRegions{"Region", "What skin is like", false, false, 0.08f, 1, true};

}  // namespace

template <>
std::span<const Member<FineSkin>> membersOf() {
  return kFineSkinMembers;
}

const SourceKind kFineSkinKind{"fineskin",
                               "Fine skin",
                               "Pores, lozenges and folds of a living skin",
                               Stratum::Surface,
                               3,
                               kFineKeys,
                               readFineSkin,
                               freshFineSkin,
                               exampleFineSkin,
                               &kRegions,
                               "Full size, from maps",
                               lengthsOf<FineSkin>(),
                               allMembers<FineSkin>};

std::span<const SkinLike> skinLikes() {
  return kLikes;
}

const SkinLike* skinLike(std::string_view key) {
  const auto found = std::ranges::find(kLikes, key, &SkinLike::key);
  return found == std::end(kLikes) ? nullptr : &*found;
}

SourcePointer fineSkinSource(FineSkin skin) {
  return std::make_shared<FineSkinLayer>(std::move(skin));
}

const FineSkin* fineSkinOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const FineSkinLayer*>(&source);
  return layer ? &layer->skin() : nullptr;
}

}  // namespace juvenor
