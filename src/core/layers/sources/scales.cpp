// Scales: even cells over the skin that follow the direction and the size of the guides, side by side or over
// one another, each with its own tone, height and wear. Which cell every sample lies in, and where in it, is
// worked out once and kept as long as neither guides nor arrangement change; the look is read from it.
#include <fmt/format.h>

#include "core/color/color_json.h"
#include "core/color/moved_color.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/prepared_places.h"
#include "core/layers/sources/registry.h"
#include "core/layers/sources/scale_look.h"

namespace juvenor {
namespace {

constexpr std::pair<ScaleShape, std::string_view> kShapes[] = {{ScaleShape::Pebble, "pebble"},
                                                               {ScaleShape::Plate, "plate"},
                                                               {ScaleShape::Leaf, "leaf"},
                                                               {ScaleShape::Shield, "shield"},
                                                               {ScaleShape::Granules, "granules"}};
constexpr std::pair<ScaleCoordinate, std::string_view> kCoordinates[] = {{ScaleCoordinate::Edge, "edge"},
                                                                         {ScaleCoordinate::Along, "along"},
                                                                         {ScaleCoordinate::Across, "across"},
                                                                         {ScaleCoordinate::Each, "each"}};

template <class Choice, size_t N>
std::string_view wordFor(const std::pair<Choice, std::string_view> (&words)[N], Choice choice) {
  return std::ranges::find(words, choice, &std::pair<Choice, std::string_view>::first)->second;
}

template <class Choice, size_t N>
Outcome readWord(const std::pair<Choice, std::string_view> (&words)[N], const std::string& word,
                 Choice& out) {
  std::vector<std::string_view> known;
  for (const auto& [choice, name] : words) {
    if (name == word) {
      out = choice;
      return Done{};
    }
    known.push_back(name);
  }
  return Error{fmt::format("knows no '{}'{}", word, nearestWord(word, known))};
}

// Where all samples lie, and in what.
struct CoveredSkin {
  std::vector<SkinCell> cells;
  CellPlaces places;
  Fineness fineness;
  CellChunks chunks = {places, cells.size()};

  size_t bytes() const { return bytesHeld(places.of) + bytesHeld(cells) + chunks.bytes(); }
  std::string toKept() const {
    std::string out;
    keepFineness(fineness, out);
    keepCells(cells, out);
    keepArray(std::span(places.of), out);
    return out;
  }
  static std::optional<CoveredSkin> fromKept(std::string_view bytes, size_t samples) {
    Fineness fineness;
    std::vector<SkinCell> cells;
    CellPlaces places;
    if (!takeFineness(bytes, fineness) || !takeCells(bytes, cells) || !takeArray(bytes, samples, places.of))
      return std::nullopt;
    for (const CellPlaces::Place& place : places.of)
      if (place.cell != kNone && place.cell >= cells.size()) return std::nullopt;
    return CoveredSkin{std::move(cells), std::move(places), fineness};
  }
};

// The look, and where each scale lies: one that is touched changes nothing else.
struct ScalesOnSkin : ScaleLook {
  std::shared_ptr<const CellChunks> chunks;
  void markTouched(const ScalesOnSkin& before, std::vector<char>& marks) const {
    for (const uint32_t cell : touchedUnlike(before))
      for (const uint32_t chunk : chunks->of(cell)) marks[chunk] = 1;
  }
};
using PreparedScales = PreparedPlaces<CellPlaces::Place, ScalesOnSkin>;

CellSetting arrangementOf(const Scales& scales) {
  CellSetting out;
  out.stretch = scales.stretch;
  out.rows = scales.rows;
  out.seed = scales.seed;
  if (scales.shape == ScaleShape::Granules) {
    out.large = scales.large;
    out.small = scales.small;
  }
  return out;
}

LeafShape leafOf(const Scales& scales) {
  return {0.65f + 0.75f * scales.overlap, scales.point};
}

class ScaleLayer final : public PatternLayer {
 public:
  explicit ScaleLayer(Scales scales) : PatternLayer(scales.guides), scales_(std::move(scales)) {}
  const Scales& scales() const { return scales_; }

  const SourceKind& kind() const override { return kScalesKind; }
  nlohmann::json parameters() const override;
  std::string remark() const override { return std::string(wordFor(kShapes, scales_.shape)); }
  ChannelSet channels() const override {
    return ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief;
  }
  const Guides* guides() const override { return &scales_.guides; }
  SourcePointer withGuides(Guides guides) const override {
    Scales out = scales_;
    out.guides = std::move(guides);
    return scaleSource(std::move(out));
  }

  Result<PreparedSourcePointer> grown(SurfaceMaps& maps, const Progress& progress) const override {
    const auto covered = maps.grown<CoveredSkin>(grownKey(), [&] { return coveredSkin(maps, progress); });
    if (!covered) return covered.error();
    const auto touched = touchedCells(maps.surface(), (*covered)->places, scales_.guides.cells);
    ScaleLook look(scales_, {(*covered)->cells, touched}, maps.surface().spacing, maps.reliefStep());
    const std::shared_ptr<const CellChunks> chunks(*covered, &(*covered)->chunks);
    return PreparedSourcePointer(std::make_shared<PreparedScales>(
        PreparedScales::Places(*covered, &(*covered)->places.of), ScalesOnSkin{std::move(look), chunks},
        words(noteOf((*covered)->fineness))));
  }

 private:
  bool overlaps() const { return scales_.shape == ScaleShape::Leaf; }
  std::string growsBy() const override {
    const CellSetting a = arrangementOf(scales_);
    std::string out =
        fmt::format("{} {} {} {} {} {} {}", a.stretch, a.rows, a.large, a.small, a.seed,
                    textOf(toJson(scales_.guides.direction)), textOf(growthOf(scales_.guides.size)));
    if (overlaps()) out += fmt::format(" {} {}", leafOf(scales_).length, leafOf(scales_).point);
    return out;
  }

  Result<CoveredSkin> coveredSkin(SurfaceMaps& maps, const Progress& progress) const {
    const auto part = [&](float from, float to) -> Progress {
      return [&progress, from, to](float f) { return report(progress, from + f * (to - from)); };
    };
    const auto directions = directionsOf(maps, scales_.guides.direction,
                                         overlaps() ? Symmetry::Direction : Symmetry::Line, part(0, 0.2f));
    if (!directions) return directions.error();
    const auto sizes = sizesOf(maps, scales_.guides.size, part(0.2f, 0.3f));
    if (!sizes) return sizes.error();
    const CellSetting setting = arrangementOf(scales_);
    const float finest = (*sizes)->finest * (setting.large > 0 ? setting.small : 1.f);
    const CellGround ground = cellGround(maps.surface(), maps.ladder(), **directions, (*sizes)->of, finest);
    auto cells = skinCells(maps, ground, setting, part(0.3f, 0.85f));
    if (!cells) return cells.error();
    auto places = overlaps() ? leafPlaces(maps.surface(), ground, *cells, leafOf(scales_), part(0.85f, 1))
                             : tiledPlaces(maps.surface(), ground, *cells, part(0.85f, 1));
    if (!places) return places.error();
    return CoveredSkin{std::move(cells->cells), std::move(*places), **sizes};
  }

  Scales scales_;
};

nlohmann::json ScaleLayer::parameters() const {
  const Scales& s = scales_;
  nlohmann::json out{{"shape", wordFor(kShapes, s.shape)},
                     {"over", wordFor(kCoordinates, s.over)},
                     {"stops", toJson(s.ramp)},
                     {"groove-color", toJson(s.grooveColor)},
                     {"seed", s.seed}};
  addMembers(out, s);
  addGuides(s.guides, out);
  return out;
}

constexpr Member<Scales> kScalesMembers[] = {
    {{"stretch", "Stretch", "How long they are by how wide", MemberUnit::Plain, 0.4f, 4},
     [](Scales& s) -> float& { return s.stretch; }},
    {{"rows", "Rows", "0 as they fall, 100 in staggered rows"}, [](Scales& s) -> float& { return s.rows; }},
    {{"large", "Large ones", "Of granules: how many are large"}, [](Scales& s) -> float& { return s.large; }},
    {{"small", "Small ones", "Of granules: how wide the small ones are by the large", MemberUnit::Part, 0.2f,
      0.8f},
     [](Scales& s) -> float& { return s.small; }},
    {{"depth", "Depth", "From the groove to the top of a scale", MemberUnit::Length, -kEndless, kEndless, 0,
      0.01f},
     [](Scales& s) -> float& { return s.depth; }},
    {{"groove", "Groove", "How wide the groove between them is"},
     [](Scales& s) -> float& { return s.groove; }},
    {{"dome", "Dome", "0 flat, 100 round"}, [](Scales& s) -> float& { return s.dome; }},
    {{"keel", "Keel", "A ridge along the middle"}, [](Scales& s) -> float& { return s.keel; }},
    {{"tilt", "Tilt", "Above 0 the tip is raised, below the root", MemberUnit::Part, -1, 1},
     [](Scales& s) -> float& { return s.tilt; }},
    {{"overlap", "Overlap", "Of leaves: how far each lies over the next"},
     [](Scales& s) -> float& { return s.overlap; }},
    {{"point", "Point", "Of leaves: 0 round, 100 pointed"}, [](Scales& s) -> float& { return s.point; }},
    {{"uneven", "Uneven", "How much their heights differ"}, [](Scales& s) -> float& { return s.uneven; }},
    {{"wear", "Wear", "How many are rubbed pale and dull, and how much"},
     [](Scales& s) -> float& { return s.wear; }},
    {{"groove-cover", "Groove covers", "How much the groove's colour covers"},
     [](Scales& s) -> float& { return s.grooveCover; }},
    {{"edge-light", "Edge light", "A light rim inside the groove"},
     [](Scales& s) -> float& { return s.edgeLight; }},
    {{"lightness", "Lightness varies", "How far scales are lighter and darker than their colours",
      MemberUnit::Part, 0, 1, 0, 0.3f},
     [](Scales& s) -> float& { return s.variety.lightness; }},
    {{"chroma", "Chroma varies", "How far they are fuller and paler than their colours"},
     [](Scales& s) -> float& { return s.variety.chroma; }},
    {{"hue", "Hue varies", "How far their hues lie apart, either way", MemberUnit::Degrees, 0, 180, 0, 60},
     [](Scales& s) -> float& { return s.variety.hue; }},
    {{"gloss", "Gloss", "How wet their tops are"}, [](Scales& s) -> float& { return s.gloss; }},
    {{"groove-gloss", "Gloss of grooves", "How wet it is between them"},
     [](Scales& s) -> float& { return s.grooveGloss; }},
};

const std::vector<std::string_view> kScaleKeys = keysWith<Scales>(
    {"touched", "direction", "size", "soothed", "shape", "over", "stops", "groove-color", "seed"});

// The parts that are objects and words of their own.
Outcome readScaleParts(const GivenGuides& guides, const nlohmann::json* stops, const std::string& shape,
                       const std::string& over, Scales& out) {
  if (const Outcome read = readGuides(guides, out.guides); !read) return read;
  if (stops) {
    auto read = readColorRamp(*stops);
    if (!read) return read.error();
    out.ramp = std::move(*read);
  }
  if (const Outcome read = readWord(kShapes, shape, out.shape); !read)
    return Error{"shape " + read.error().what};
  if (const Outcome read = readWord(kCoordinates, over, out.over); !read)
    return Error{"over " + read.error().what};
  return Done{};
}

Result<SourcePointer> readScales(const nlohmann::json& parameters, size_t) {
  Scales out;
  GivenGuides guides;
  const nlohmann::json* stops = nullptr;
  std::string shape(wordFor(kShapes, out.shape)), over(wordFor(kCoordinates, out.over));
  JsonFields fields(parameters);
  fields.any("direction", guides.direction)
      .any("size", guides.size)
      .list("soothed", guides.soothed)
      .list("touched", guides.touched)
      .text("shape", shape)
      .text("over", over)
      .list("stops", stops)
      .value("groove-color", out.grooveColor, kJsonColor)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"scales: " + ok.error().what};
  if (const Outcome read = readScaleParts(guides, stops, shape, over, out); !read)
    return Error{"scales: " + read.error().what};
  return scaleSource(std::move(out));
}

// Tones of a scale around a colour: darker to the border.
RampStops rampAround(const EncodedColor& color) {
  return {{0, movedColor(color, -0.1f, 0, 0), 0.9f, {}}, {1, movedColor(color, 0.04f, 0, 0), 0.9f, {}}};
}

SourcePointer freshScales(const Surface& surface, const EncodedColor& color) {
  Scales out;
  out.guides = usualGuides(surface.bounds.diagonal());
  out.depth = 0.06f * out.guides.size.size;
  out.ramp = rampAround(color);
  out.grooveColor = movedColor(color, -0.25f, -0.2f, 0);
  return scaleSource(usualScales(ScaleShape::Pebble, std::move(out)));
}

SourcePointer exampleScales(const Surface&) {
  Scales out;
  out.guides.direction.form = 1;
  out.guides.size.size = 0.3f;
  out.depth = 0.04f;
  return scaleSource(usualScales(ScaleShape::Leaf, std::move(out)));
}

constexpr AreaFacts kSmallerAreas{"Small area", "Where they are smaller"};

}  // namespace

template <>
std::span<const Member<Scales>> membersOf() {
  return kScalesMembers;
}

const SourceKind kScalesKind{"scales",
                             "Scales",
                             "Pebbles, plates, leaves and shields that grow on the skin",
                             Stratum::Surface,
                             3,
                             kScaleKeys,
                             readScales,
                             freshScales,
                             exampleScales,
                             &kSmallerAreas,
                             "Full size, from maps",
                             lengthsOf<Scales>(),
                             allMembers<Scales>};

Scales usualScales(ScaleShape shape, Scales out) {
  out.shape = shape;
  struct Usual {
    float stretch, rows, groove, dome, keel, tilt;
  };
  const Usual usual = [&]() -> Usual {
    switch (shape) {
      case ScaleShape::Plate:
        return {1, 0.9f, 0.16f, 0.2f, 0, 0};
      case ScaleShape::Leaf:
        return {1.15f, 1, 0.14f, 0.45f, 0.25f, 0.6f};
      case ScaleShape::Shield:
        return {1.5f, 0.7f, 0.3f, 0.5f, 0.6f, 0.2f};
      case ScaleShape::Granules:
        return {1, 0, 0.3f, 0.8f, 0, 0};
      case ScaleShape::Pebble:
        break;
    }
    return {1, 0, 0.25f, 0.7f, 0, 0};
  }();
  out.stretch = usual.stretch;
  out.rows = usual.rows;
  out.groove = usual.groove;
  out.dome = usual.dome;
  out.keel = usual.keel;
  out.tilt = usual.tilt;
  out.over = shape == ScaleShape::Leaf ? ScaleCoordinate::Along : ScaleCoordinate::Edge;
  return out;
}

SourcePointer scaleSource(Scales scales) {
  return std::make_shared<ScaleLayer>(std::move(scales));
}

const Scales* scalesOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const ScaleLayer*>(&source);
  return layer ? &layer->scales() : nullptr;
}

}  // namespace juvenor
