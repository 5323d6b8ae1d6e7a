#include "core/layers/sources/hair.h"

#include <fmt/format.h>

#include "core/color/hair_tone.h"
#include "core/color/srgb.h"
#include "core/json_fields.h"
#include "core/layers/sources/hair_roots.h"
#include "core/layers/sources/pattern_layer.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

// What light of a grey fibre is left after it went through many of them.
constexpr float kGreyMelanin = 0.02f;

// How much of the skin under edges has the tone, by sample, ascending.
using UnderEdges = std::vector<std::pair<uint32_t, uint16_t>>;

class PreparedHair final : public PreparedSource {
 public:
  PreparedHair(HairGround ground, UnderEdges edges, std::string note)
      : ground_(std::move(ground)), edges_(std::move(edges)), note_(std::move(note)) {
    const Vec3 tone = toneOf(ground_.hair);
    tone_ = opaque16(encode({tone.x(), tone.y(), tone.z()}));
    auto all = std::make_shared<ColorChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) setSample(*all, i, tinted(1));
    all_ = std::move(all);
  }
  const HairGround& ground() const { return ground_; }

  std::string note() const override { return note_; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk&) const override {
    if (!(ground_.hair.under > 0)) return nullptr;
    if (ground_.hair.guides.edges.empty()) return all_;
    std::shared_ptr<ColorChunk> out;
    eachUnderEdges(ask.index, [&](uint32_t s, uint16_t cover) {
      if (!out) out = std::make_shared<ColorChunk>();
      setSample(*out, s % kChunkSize, tinted(from16(cover)));
    });
    return out;
  }
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    const auto* old = dynamic_cast<const PreparedHair*>(&before);
    return old && old->tone_ == tone_ && old->ground_.hair.under == ground_.hair.under &&
           old->edges_ == edges_ &&
           old->ground_.hair.guides.edges.empty() == ground_.hair.guides.edges.empty();
  }
  void markContent(Channel channel, std::vector<char>& marks) const override {
    if (ground_.hair.guides.edges.empty()) return PreparedSource::markContent(channel, marks);
    for (const auto& [s, cover] : edges_) marks[s / kChunkSize] = 1;
  }

 private:
  // The tone as covering as it lies on the skin, times a part.
  Rgba16 tinted(float part) const {
    const float cover = part * ground_.hair.under;
    const auto scaled = [&](uint16_t v) {
      return static_cast<uint16_t>(std::lround(cover * static_cast<float>(v)));
    };
    return {scaled(tone_.r), scaled(tone_.g), scaled(tone_.b), scaled(65535)};
  }
  template <class Each>
  void eachUnderEdges(size_t chunk, Each each) const {
    auto at = std::ranges::lower_bound(edges_, static_cast<uint32_t>(chunk * kChunkSize), {},
                                       &UnderEdges::value_type::first);
    for (; at != edges_.end() && at->first < (chunk + 1) * kChunkSize; ++at) each(at->first, at->second);
  }

  HairGround ground_;
  UnderEdges edges_;
  std::string note_;
  Rgba16 tone_{};
  ColorField::Pointer all_;
};

UnderEdges underEdges(const Surface& surface, std::span<const SkinStroke> edges) {
  std::map<uint32_t, float> most;
  for (const SkinStroke& edge : edges)
    eachUnder(surface, edge, [&](uint32_t s, float weight) {
      float& there = most[s];
      there = std::max(there, weight);
    });
  UnderEdges out;
  for (const auto& [s, weight] : most) out.emplace_back(s, to16(weight));
  return out;
}

class HairLayer final : public GuidedLayer {
 public:
  explicit HairLayer(Hair hair) : GuidedLayer(hair.guides), hair_(std::move(hair)) {}
  const Hair& hair() const { return hair_; }

  const SourceKind& kind() const override { return kHairKind; }
  nlohmann::json parameters() const override {
    nlohmann::json out{{"seed", hair_.seed}};
    addMembers(out, hair_);
    addGuides(hair_.guides, out);
    return out;
  }
  const Guides* guides() const override { return &hair_.guides; }
  SourcePointer withGuides(Guides guides) const override {
    Hair out = hair_;
    out.guides = std::move(guides);
    return hairSource(std::move(out));
  }
  // (edges ask for few rays, and for none where there are none)
  bool isReady(SurfaceMaps& maps) const override {
    return maps.hasDerived(readyKey()) &&
           (!hair_.guides.edges.empty() || hasRootsOver(maps, hair_.apart, hair_.seed));
  }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override;

 private:
  // The name of the lengths, which are worked out last.
  std::string readyKey() const {
    return "hair lengths " + textOf(toJson(hair_.guides.direction)) + textOf(growthOf(hair_.guides.size));
  }

  Hair hair_;
};

Result<PreparedSourcePointer> HairLayer::prepare(SurfaceMaps& maps, const Progress& progress) const {
  HairGround ground{hair_, nullptr, nullptr, nullptr};
  const auto directions = directionsOf(maps, hair_.guides.direction, Symmetry::Direction,
                                       [&](float f) { return report(progress, 0.5f * f); });
  if (!directions) return directions.error();
  ground.directions = *directions;
  const auto roots = hair_.guides.edges.empty()
                         ? rootsOver(maps, hair_.apart, hair_.seed, progress)
                         : rootsAlong(maps, hair_.guides.edges, hair_.edgeApart, hair_.seed, progress);
  if (!roots) return roots.error();
  ground.roots = *roots;
  const auto lengths = maps.derived<std::vector<float>>(
      readyKey(), [&]() -> Result<std::shared_ptr<const std::vector<float>>> {
        auto wished = wishedSizes(maps, hair_.guides.size, progress);
        if (!wished) return wished.error();
        return std::make_shared<const std::vector<float>>(std::move(*wished));
      });
  if (!lengths) return lengths.error();
  ground.lengths = *lengths;
  std::string note;
  if (hair_.guides.edges.empty() && rootsApart(maps.surface(), hair_.apart) > 1.05f * hair_.apart)
    note = "There would be too many fibres on a sculpt of this size: they stand farther apart.";
  return PreparedSourcePointer(std::make_shared<PreparedHair>(
      std::move(ground), underEdges(maps.surface(), hair_.guides.edges), std::move(note)));
}

constexpr Member<Hair> kHairMembers[] = {
    {{"apart", "Apart", "From root to root where all of the mask shows", MemberUnit::Length, kLeastLength,
      kEndless, 0.0008f, 0.02f},
     [](Hair& h) -> float& { return h.apart; }},
    {{"uneven", "Uneven", "How much shorter some of them are"}, [](Hair& h) -> float& { return h.uneven; }},
    {{"thickness", "Thickness", "Across a fibre at its root", MemberUnit::Length, kLeastLength, kEndless,
      0.0001f, 0.002f},
     [](Hair& h) -> float& { return h.thickness; }},
    {{"taper", "Taper", "How much thinner the tip is"}, [](Hair& h) -> float& { return h.taper; }},
    {{"lift", "Lift", "How steeply they stand on the skin", MemberUnit::Degrees, 0, 90},
     [](Hair& h) -> float& { return h.lift; }},
    {{"bend", "Bend", "Down to where they are combed; below 0 up from the skin", MemberUnit::Part, -1, 1},
     [](Hair& h) -> float& { return h.bend; }},
    {{"clump", "Clumps", "How far tips are drawn together"}, [](Hair& h) -> float& { return h.clump; }},
    {{"clump-size", "Clumps' size", "From one to the next", MemberUnit::Length, kLeastLength, kEndless,
      0.001f, 0.06f},
     [](Hair& h) -> float& { return h.clumpSize; }},
    {{"stray", "Stray", "How far single ones leave the direction"},
     [](Hair& h) -> float& { return h.stray; }},
    {{"eumelanin", "Brown", "How much brown melanin: 0.3 blond, 1.3 brown, 8 black", MemberUnit::Plain, 0,
      kMostMelanin},
     [](Hair& h) -> float& { return h.eumelanin; }},
    {{"pheomelanin", "Red", "How much red melanin: 0.2 as a rule, 1.5 red hair", MemberUnit::Plain, 0,
      kMostMelanin},
     [](Hair& h) -> float& { return h.pheomelanin; }},
    {{"grey", "Grey ones", "How many have none"}, [](Hair& h) -> float& { return h.grey; }},
    {{"shine", "Shine", "How narrow their highlights are"}, [](Hair& h) -> float& { return h.shine; }},
    {{"under", "Under tone", "How much of their tone the skin below has, so that gaps vanish"},
     [](Hair& h) -> float& { return h.under; }},
    {{"edge-apart", "Along edges", "From one to the next along an edge", MemberUnit::Length, kLeastLength,
      kEndless, 0.0005f, 0.01f},
     [](Hair& h) -> float& { return h.edgeApart; }},
};

const std::vector<std::string_view> kHairKeys =
    keysWith<Hair>({"direction", "size", "soothed", "edges", "seed"});

Result<SourcePointer> readHair(const nlohmann::json& parameters, size_t) {
  Hair out;
  GivenGuides guides;
  JsonFields fields(parameters);
  fields.any("direction", guides.direction)
      .any("size", guides.size)
      .list("soothed", guides.soothed)
      .list("edges", guides.edges)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"hair: " + ok.error().what};
  if (const Outcome read = readGuides(guides, out.guides); !read) return Error{"hair: " + read.error().what};
  return hairSource(std::move(out));
}

SourcePointer freshHair(const Surface& surface, const EncodedColor&) {
  return hairSource(usualHairOn(usualHair().front(), {}, surface.bounds.diagonal()));
}

SourcePointer exampleHair(const Surface&) {
  Hair out;
  out.guides.direction.flow = Vec3(0.9f, -0.4f, 0);
  out.guides.direction.curvature = 0;
  out.guides.size.size = 0.3f;
  out.apart = 0.035f;
  out.thickness = 0.012f;
  out.clumpSize = 0.16f;
  out.eumelanin = 0.5f;
  return hairSource(std::move(out));
}

constexpr AreaFacts kShorterAreas{"Shorter area", "Where they are shorter"};

}  // namespace

template <>
std::span<const Member<Hair>> membersOf() {
  return kHairMembers;
}

const SourceKind kHairKind{"hair",
                           "Hair",
                           "Short fibres that stand on the skin: brows, lashes, stubble, beards",
                           Stratum::Pigment,
                           2,
                           kHairKeys,
                           readHair,
                           freshHair,
                           exampleHair,
                           &kShorterAreas,
                           "Full length, from maps",
                           lengthsOf<Hair>(),
                           allMembers<Hair>,
                           true};

const HairGround* hairGroundOf(const PreparedSource& source) {
  const auto* hair = dynamic_cast<const PreparedHair*>(&source);
  return hair ? &hair->ground() : nullptr;
}

Vec3 fibreAbsorption(const Hair& hair, Draws& draws) {
  const float shade = std::exp2(0.5f * draws.around());
  return draws.unit() < hair.grey ? hairAbsorption(kGreyMelanin, 0)
                                  : hairAbsorption(shade * hair.eumelanin, shade * hair.pheomelanin);
}

Vec3 toneOf(const Hair& hair) {
  const Vec3 grown = hairTone(hairAbsorption(hair.eumelanin, hair.pheomelanin)),
             grey = hairTone(hairAbsorption(kGreyMelanin, 0));
  return (1 - hair.grey) * grown + hair.grey * grey;
}

SourcePointer hairSource(Hair hair) {
  return std::make_shared<HairLayer>(std::move(hair));
}

const Hair* hairOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const HairLayer*>(&source);
  return layer ? &layer->hair() : nullptr;
}

}  // namespace juvenor
