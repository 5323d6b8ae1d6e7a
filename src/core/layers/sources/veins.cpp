// Vessels under or on the skin, drawn as strokes of changing thickness along the ways they grow. Deep ones
// are wider, softer and paler; what is finer than the samples covers by its width.
#include <cmath>

#include "core/color/color_json.h"
#include "core/layers/places.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/prepared_marking.h"
#include "core/layers/sources/registry.h"
#include "core/surface/falloff.h"

namespace juvenor {
namespace {

constexpr float kTurnedAway = 0.1f;  // the cosine beyond which skin has
constexpr float kFlank = 1.7f;       // of a raised vessel, in radii

// From one place of a vessel to the next.
struct Piece {
  Vec3 from, along;
  Vec3 normal;
  float radius, more;  // at its start, and by how much it changes
  float width;         // the least radius samples can show
  float reach;         // of all it does
  uint32_t part;
  float near;  // to the stem: 1 at the thickest
};

class PreparedVeins final : public PreparedMarking {
 public:
  PreparedVeins(std::shared_ptr<const Surface> surface, const Veins& veins, std::vector<Piece> pieces,
                ChunkBins bins, std::vector<uint64_t> signatures, ChannelSet channels, float reliefStep)
      : PreparedMarking(channels, std::move(signatures)),
        surface_(std::move(surface)),
        veins_(veins),
        pieces_(std::move(pieces)),
        bins_(std::move(bins)),
        reliefStep_(reliefStep) {}

 private:
  Worked worked(size_t index) const override {
    std::vector<float> covers(kChunkSize, 0), heights(kChunkSize, 0);
    for (const uint32_t i : bins_.of(index)) draw(index, pieces_[i], covers, heights);
    auto values = std::make_shared<ScalarChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) values->plane[0][i] = to16(covers[i]);
    Worked out{.values = std::move(values)};
    if (veins_.height != 0) {
      auto relief = std::make_shared<ScalarChunk>();
      for (size_t i = 0; i < kChunkSize; ++i) relief->plane[0][i] = height16(heights[i], reliefStep_);
      out.relief = std::move(relief);
    }
    return out;
  }

  ColorField::Pointer colored(const ScalarChunk& covers) const override {
    auto out = std::make_shared<ColorChunk>();
    for (size_t p = 0; p < 3; ++p)
      for (size_t i = 0; i < kChunkSize; ++i)
        out->plane[p][i] = static_cast<uint16_t>(
            static_cast<float>(covers.plane[0][i]) * std::clamp((&veins_.color.r)[p], 0.f, 1.f) + 0.5f);
    out->plane[3] = covers.plane[0];
    return out;
  }

  void draw(size_t index, const Piece& piece, std::vector<float>& covers, std::vector<float>& heights) const {
    const float length2 = std::max(1e-30f, piece.along.squaredNorm());
    const Vec3 middle = piece.from + 0.5f * piece.along;
    eachSampleNear(*surface_, index, {middle, piece.reach}, [&](uint32_t s) {
      const Vec3 away = surface_->positions[s] - piece.from;
      if (piece.part != surface_->parts[s] || piece.normal.dot(surface_->normals[s]) <= kTurnedAway) return;
      const float t = std::clamp(away.dot(piece.along) / length2, 0.f, 1.f);
      const float distance = (away - t * piece.along).norm(), radius = piece.radius + t * piece.more;
      float& cover = covers[s - index * kChunkSize];
      cover = std::max(cover, coverAt(distance, radius, piece.width));
      if (veins_.height == 0) return;
      float& height = heights[s - index * kChunkSize];
      const float lifted =
          veins_.height * piece.near * falloff(distance / std::max(kFlank * radius, piece.width), 0);
      if (std::abs(lifted) > std::abs(height)) height = lifted;
    });
  }

  // The same dye over a wider stroke is paler.
  float coverAt(float distance, float radius, float width) const {
    const float deep = radius + veins_.depth, wide = std::max(deep, width);
    const float soft = std::min(1.f, (veins_.depth + 0.5f * width) / wide);
    const float dye = (radius + 0.35f * veins_.depth) * (1 - 0.5f * veins_.depth / deep);
    return std::min(1.f, dye / (wide * (1 - 0.5f * soft))) * falloff(distance / wide, 1 - soft);
  }

  std::shared_ptr<const Surface> surface_;
  Veins veins_;
  std::vector<Piece> pieces_;
  ChunkBins bins_;
  float reliefStep_;
};

struct VeinPaths {
  std::vector<VeinPath> of;

  size_t bytes() const {
    size_t out = bytesHeld(of);
    for (const VeinPath& p : of) out += bytesHeld(p.places) + bytesHeld(p.normals) + bytesHeld(p.radii);
    return out;
  }
};

std::vector<Piece> piecesOf(const Surface& surface, const Veins& veins, const std::vector<VeinPath>& paths) {
  std::vector<Piece> out;
  // samples are about as far apart as elsewhere
  const float width = 0.9f * surface.spacing;
  for (const VeinPath& path : paths)
    for (size_t i = 0; i + 1 < path.places.size(); ++i) {
      Piece p;
      p.from = path.places[i];
      p.along = path.places[i + 1] - p.from;
      p.normal = normalizedOr(path.normals[i] + path.normals[i + 1], path.normals[i]);
      p.radius = path.radii[i];
      p.more = path.radii[i + 1] - p.radius;
      p.width = width;
      const float thick = std::max(p.radius, path.radii[i + 1]);
      p.reach = 0.5f * p.along.norm() +
                std::max({thick + veins.depth, width, veins.height != 0 ? kFlank * thick : 0});
      p.part = path.part;
      p.near = std::min(1.f, 2 * thick / std::max(1e-9f, veins.width));
      out.push_back(p);
    }
  return out;
}

class VeinLayer final : public LayerSource {
 public:
  explicit VeinLayer(Veins veins) : veins_(std::move(veins)) {}
  const Veins& veins() const { return veins_; }

  const SourceKind& kind() const override { return kVeinsKind; }
  nlohmann::json parameters() const override {
    nlohmann::json out = growth();
    out["color"] = toJson(veins_.color);
    out["zones"] = toJson(zones_)["zones"];
    addMembers(out, veins_);
    return out;
  }
  ChannelSet channels() const override {
    return veins_.height != 0 ? ChannelSet(Channel::Color) | Channel::Relief : ChannelSet(Channel::Color);
  }
  const ZoneSet* zones() const override { return &zones_; }
  SourcePointer withZones(ZoneSet set) const override {
    Veins out = veins_;
    out.roots = std::move(set.zones);
    return veinSource(std::move(out));
  }
  const MaskTerms* terms() const override { return &veins_.region; }
  SourcePointer withTerms(MaskTerms terms) const override {
    Veins out = veins_;
    out.region = std::move(terms);
    return veinSource(std::move(out));
  }
  SourcePointer refined(const Refined&) const override { return veinSource(veins_); }
  bool isReady(SurfaceMaps& maps) const override { return veins_.roots.empty() || maps.hasDerived(key()); }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(veins_.region); }

  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    const auto paths = maps.derived<VeinPaths>(key(), [&]() -> Result<std::shared_ptr<const VeinPaths>> {
      auto grown = grownVeins(maps, veins_, progress);
      if (!grown) return grown.error();
      return std::make_shared<const VeinPaths>(VeinPaths{std::move(*grown)});
    });
    if (!paths) return paths.error();
    return made(maps, piecesOf(maps.surface(), veins_, (*paths)->of));
  }

 private:
  // What their ways depend on.
  nlohmann::json growth() const {
    nlohmann::json out{{"zones", withoutNames(toJson(zones_)["zones"])},
                       {"toward", {veins_.toward.x(), veins_.toward.y(), veins_.toward.z()}},
                       {"maps", toJson(veins_.region)},
                       {"seed", veins_.seed}};
    addMembers(out, veins_);
    out.erase("depth");
    out.erase("height");
    return out;
  }
  std::string key() const { return "veins " + textOf(growth()); }

  Result<PreparedSourcePointer> made(SurfaceMaps& maps, std::vector<Piece> pieces) const {
    std::vector<ChunkBins::Ball> balls;
    for (const Piece& p : pieces) balls.push_back({p.from + 0.5f * p.along, p.reach});
    ChunkBins bins(maps.surface(), balls);
    std::vector<uint64_t> signatures(chunkCount(maps.size()), 0);
    for (size_t c = 0; c < signatures.size(); ++c) {
      if (bins.of(c).empty()) continue;
      uint64_t& signature = signatures[c];
      for (const float f : {veins_.color.r, veins_.color.g, veins_.color.b, veins_.depth, veins_.height})
        sign(signature, f);
      for (const uint32_t i : bins.of(c)) {
        const Piece& p = pieces[i];
        sign(signature, p.from);
        sign(signature, p.along);
        for (const float f : {p.radius, p.more, p.near}) sign(signature, f);
      }
      signature |= 1;
    }
    return PreparedSourcePointer(
        std::make_shared<PreparedVeins>(maps.sharedSurface(), veins_, std::move(pieces), std::move(bins),
                                        std::move(signatures), channels(), maps.reliefStep()));
  }

  Veins veins_;
  ZoneSet zones_{veins_.roots, 0};
};

constexpr Member<Veins> kVeinsMembers[] = {
    {{"fan", "Fan", "0 straight that way, 100 all around"}, [](Veins& s) -> float& { return s.fan; }},
    {{"width", "Width", "How thick they are at the root", MemberUnit::Length, kLeastLength, kEndless, 0.0005f,
      0.03f},
     [](Veins& s) -> float& { return s.width; }},
    {{"finest", "Finest", "How thick they are at the tips", MemberUnit::Length, kLeastLength, kEndless,
      0.0001f, 0.01f},
     [](Veins& s) -> float& { return s.finest; }},
    {{"spacing", "Apart", "How far tips lie apart: less gives more branches", MemberUnit::Length,
      kLeastLength, kEndless, 0.006f, 0.15f},
     [](Veins& s) -> float& { return s.spacing; }},
    {{"wander", "Wander", "0 straight, 100 winding"}, [](Veins& s) -> float& { return s.wander; }},
    {{"depth", "Depth", "Under the skin they are wider, softer and paler; 0 on it", MemberUnit::Length, 0,
      kEndless, 0, 0.01f},
     [](Veins& s) -> float& { return s.depth; }},
    {{"height", "Height", "How far the stem lifts the skin", MemberUnit::Length, -kEndless, kEndless, 0,
      0.004f},
     [](Veins& s) -> float& { return s.height; }},
};

const std::vector<std::string_view> kVeinsKeys =
    keysWith<Veins>({"color", "zones", "toward", "maps", "seed"});

Result<SourcePointer> readVeins(const nlohmann::json& parameters, size_t) {
  Veins out;
  const nlohmann::json *maps = nullptr, *zones = nullptr;
  JsonFields fields(parameters);
  fields.value("color", out.color, kJsonColor)
      .list("zones", zones)
      .vector("toward", out.toward)
      .list("maps", maps)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"veins " + ok.error().what};
  const float length = out.toward.stableNorm();
  if (!(length > 0)) return Error{"veins need a \"toward\" that has a length"};
  out.toward /= length;
  if (const Outcome read = readPlaces(maps, zones, out.region, out.roots); !read)
    return Error{"veins: " + read.error().what};
  return veinSource(std::move(out));
}

SourcePointer freshVeins(const Surface& surface, const EncodedColor& color) {
  const float d = surface.bounds.diagonal();
  Veins out;
  out.color = color;
  out.width = 0.005f * d;
  out.finest = 0.001f * d;
  out.spacing = 0.025f * d;
  out.depth = 0.0015f * d;
  return veinSource(std::move(out));
}

SourcePointer exampleVeins(const Surface&) {
  Veins out;
  HueZone root;
  root.anchor = {-0.95f, -0.3f, 0};
  root.mirrored = false;
  root.reach = 2.2f;
  root.strength = 1;
  out.roots = {root};
  out.toward = Vec3::UnitX();
  out.fan = 0.35f;
  out.width = 0.1f;
  out.finest = 0.02f;
  out.spacing = 0.22f;
  out.depth = 0.02f;
  return veinSource(std::move(out));
}

}  // namespace

constexpr AreaFacts kRoots{"Root", "Roots", false, false, 0.18f, 1};

template <>
std::span<const Member<Veins>> membersOf() {
  return kVeinsMembers;
}

const SourceKind kVeinsKind{"veins",
                            "Veins",
                            "Vessels that branch from their roots along the skin, under it or on it",
                            Stratum::Pigment,
                            2,
                            kVeinsKeys,
                            readVeins,
                            freshVeins,
                            exampleVeins,
                            &kRoots,
                            "Where they go, from maps",
                            lengthsOf<Veins>(),
                            allMembers<Veins>};

SourcePointer veinSource(Veins veins) {
  return std::make_shared<VeinLayer>(std::move(veins));
}

const Veins* veinsOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const VeinLayer*>(&source);
  return layer ? &layer->veins() : nullptr;
}

}  // namespace juvenor
