// Eyes: iris, pupil and white on balls of the sculpt, in colour, gloss and relief. Which samples lie on a
// ball, and how near lids are, is found once; what it looks like is worked out chunk by chunk.
#include "core/layers/sources/eyes.h"

#include <fmt/format.h>

#include <cmath>

#include "core/color/color_json.h"
#include "core/layers/sources/eye_ground.h"
#include "core/layers/sources/eye_look.h"
#include "core/layers/sources/eye_vessels.h"
#include "core/layers/sources/prepared_marking.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

constexpr ChannelSet kEyeChannels =
    ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief | Channel::Wander;
constexpr size_t kMostBalls = 64, kMostRings = 6, kMostOutline = 512;
constexpr std::pair<PupilShape, std::string_view> kPupilShapes[] = {{PupilShape::Round, "round"},
                                                                    {PupilShape::Upright, "upright"},
                                                                    {PupilShape::Level, "level"},
                                                                    {PupilShape::Keyhole, "keyhole"},
                                                                    {PupilShape::Drawn, "drawn"}};

// One ball with all that is known of it.
struct ReadyEye {
  EyeLook look;
  std::shared_ptr<const EyeGround> ground;
  std::vector<VesselPiece> vessels;
  ChunkBins bins;
};

class PreparedEyes final : public PreparedMarking {
 public:
  PreparedEyes(std::shared_ptr<const Surface> surface, const Eyes& eyes, std::vector<ReadyEye> ready,
               std::vector<uint64_t> signatures, float reliefStep)
      : PreparedMarking(kEyeChannels, std::move(signatures)),
        surface_(std::move(surface)),
        gloss_(eyes.gloss),
        wander_(eyes.wander),
        iris_(eyes.iris),
        ready_(std::move(ready)),
        reliefStep_(reliefStep) {}

  std::string note() const override {
    if (ready_.empty()) return "Press on an eyeball to set an eye there.";
    for (const ReadyEye& eye : ready_)
      if (isCoarse(eye)) return "Points are too far apart to show an iris: add points on the eyes.";
    return {};
  }

 private:
  // Whether fewer than a dozen points lie across its iris.
  bool isCoarse(const ReadyEye& eye) const {
    double area = 0;
    for (const uint32_t s : eye.ground->samples) area += static_cast<double>(surface_->areas[s]);
    const double count = std::max<double>(1, static_cast<double>(eye.ground->samples.size()));
    return std::sqrt(area / count) > static_cast<double>(iris_) / 6;
  }

  Worked worked(size_t index) const override {
    auto color = std::make_shared<ColorChunk>();
    auto gloss = std::make_shared<CoverChunk>();
    auto wander = std::make_shared<CoverChunk>();
    auto relief = std::make_shared<ScalarChunk>();
    relief->plane[0].fill(kLevel);
    for (const ReadyEye& eye : ready_) {
      const std::vector<float> vessels = vesselsOver(eye, index);
      eachIn(eye, index, [&](size_t at, uint32_t s) {
        const float apart = std::sqrt(surface_->areas[s]);
        const EyeSample sample = eye.look.at(eye.look.placeOf(surface_->positions[s]), apart,
                                             vessels[s - index * kChunkSize], eye.ground->wet[at]);
        const size_t i = s - index * kChunkSize;
        setSample(*color, i, opaque16(encode(fromOklab(sample.color))));
        gloss->plane[0][i] = to16(gloss_);
        wander->plane[0][i] = to16(wander_);
        gloss->plane[1][i] = wander->plane[1][i] = 65535;
        relief->plane[0][i] = height16(sample.height, reliefStep_);
      });
    }
    return {.color = std::move(color),
            .relief = std::move(relief),
            .gloss = std::move(gloss),
            .wander = std::move(wander)};
  }

  template <class Body>
  static void eachIn(const ReadyEye& eye, size_t index, Body body) {
    const auto& samples = eye.ground->samples;
    const auto first = std::ranges::lower_bound(samples, static_cast<uint32_t>(index * kChunkSize));
    for (auto at = first; at != samples.end() && *at < (index + 1) * kChunkSize; ++at)
      body(static_cast<size_t>(at - samples.begin()), *at);
  }

  std::vector<float> vesselsOver(const ReadyEye& eye, size_t index) const {
    std::vector<float> out(kChunkSize, 0);
    for (const uint32_t v : eye.bins.of(index)) {
      const VesselPiece& piece = eye.vessels[v];
      eachSampleNear(*surface_, index, ballOf(piece, surface_->spacing), [&](uint32_t s) {
        float& cover = out[s - index * kChunkSize];
        cover = std::max(cover, vesselCover(piece, surface_->positions[s], std::sqrt(surface_->areas[s])));
      });
    }
    return out;
  }

 public:
  static ChunkBins::Ball ballOf(const VesselPiece& piece, float spacing) {
    return {0.5f * (piece.from + piece.to),
            0.5f * (piece.to - piece.from).norm() + 1.7f * std::max(piece.radius, 1.2f * spacing)};
  }

 private:
  std::shared_ptr<const Surface> surface_;
  float gloss_, wander_, iris_;
  std::vector<ReadyEye> ready_;
  float reliefStep_;
};

nlohmann::json toJson(const EyeBall& ball) {
  nlohmann::json out{{"center", {ball.center.x(), ball.center.y(), ball.center.z()}},
                     {"radius", ball.radius},
                     {"look", {ball.look.x(), ball.look.y(), ball.look.z()}},
                     {"up", {ball.up.x(), ball.up.y(), ball.up.z()}},
                     {"seed", ball.seed}};
  if (ball.part != kNone) out["part"] = ball.part;
  return out;
}

class EyeLayer final : public LayerSource {
 public:
  explicit EyeLayer(Eyes eyes) : eyes_(std::move(eyes)) {}
  const Eyes& eyes() const { return eyes_; }

  const SourceKind& kind() const override { return kEyesKind; }
  nlohmann::json parameters() const override {
    nlohmann::json out = settings();
    out["balls"] = nlohmann::json::array();
    for (const EyeBall& ball : eyes_.balls) out["balls"].push_back(toJson(ball));
    return out;
  }
  ChannelSet channels() const override { return kEyeChannels; }
  SourcePointer refined(const Refined&) const override { return eyeSource(eyes_); }
  bool isReady(SurfaceMaps& maps) const override {
    return std::ranges::all_of(eyes_.balls,
                               [&](const EyeBall& ball) { return hasEyeGround(maps, ball, eyes_.rim); });
  }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress&) const override {
    const Surface& surface = maps.surface();
    std::vector<ReadyEye> ready;
    std::vector<uint64_t> signatures(chunkCount(surface.size()), 0);
    const std::string shared = textOf(settings());
    for (const EyeBall& ball : eyes_.balls) {
      const auto ground = eyeGround(maps, ball, eyes_.rim);
      if (!ground) return ground.error();
      EyeLook look(eyes_, ball);
      // (a third lid comes from where the other eye is)
      const std::string_view inner = eyes_.lid > 0 && !look.innerIsRight() ? "left" : "";
      auto vessels = eyeVessels(eyes_, ball, look.right(), look.up());
      std::vector<ChunkBins::Ball> balls;
      for (const VesselPiece& piece : vessels) balls.push_back(PreparedEyes::ballOf(piece, surface.spacing));
      ChunkBins bins(surface, balls);
      ready.push_back({std::move(look), *ground, std::move(vessels), std::move(bins)});
      uint64_t own = 1;
      sign(own, fmt::format("{}{}{}", shared, textOf(toJson(ball)), inner));
      size_t last = SIZE_MAX;
      for (const uint32_t s : (*ground)->samples)
        if (s / kChunkSize != last) {
          last = s / kChunkSize;
          sign(signatures[last], own);
          signatures[last] |= 1;
        }
    }
    return PreparedSourcePointer(std::make_shared<PreparedEyes>(maps.sharedSurface(), eyes_, std::move(ready),
                                                                std::move(signatures), maps.reliefStep()));
  }

 private:
  // All but the balls.
  nlohmann::json settings() const;

  Eyes eyes_;
};

nlohmann::json EyeLayer::settings() const {
  nlohmann::json rings = nlohmann::json::array(), outline = nlohmann::json::array();
  for (const IrisRing& ring : eyes_.rings)
    rings.push_back(
        {{"melanin", ring.melanin}, {"color", juvenor::toJson(ring.color)}, {"colored", ring.colored}});
  for (const Vec2& p : eyes_.outline) outline.push_back({p.x(), p.y()});
  nlohmann::json out{
      {"rings", rings},
      {"shape",
       std::ranges::find(kPupilShapes, eyes_.shape, &std::pair<PupilShape, std::string_view>::first)->second},
      {"fleck-color", juvenor::toJson(eyes_.fleckColor)},
      {"white", juvenor::toJson(eyes_.white)},
      {"vessel-color", juvenor::toJson(eyes_.vesselColor)},
      {"lid-color", juvenor::toJson(eyes_.lidColor)},
      {"seed", eyes_.seed}};
  if (!outline.empty()) out["outline"] = outline;
  addMembers(out, eyes_);
  return out;
}

constexpr Member<Eyes> kEyesMembers[] = {
    {{"iris", "Iris", "Its radius as seen from the front", MemberUnit::Length, kLeastLength, kEndless, 0.004f,
      0.12f},
     [](Eyes& e) -> float& { return e.iris; }},
    {{"pupil", "Pupil", "Its radius, or half its length", MemberUnit::Length, kLeastLength, kEndless, 0.001f,
      0.08f},
     [](Eyes& e) -> float& { return e.pupil; }},
    {{"slit", "Slit", "Of upright and level ones: how wide by their length", MemberUnit::Part, 0.02f, 1},
     [](Eyes& e) -> float& { return e.slit; }},
    {{"uneven", "Uneven", "How far rims leave their circles"}, [](Eyes& e) -> float& { return e.uneven; }},
    {{"fibres", "Fibres", "How much strands stand out"}, [](Eyes& e) -> float& { return e.fibres; }},
    {{"strands", "Strands", "How many lie around it", MemberUnit::Plain, 8, 400, 20, 200},
     [](Eyes& e) -> float& { return e.strands; }},
    {{"collarette", "Collarette", "Where its inner ring ends, from the pupil to the rim", MemberUnit::Part,
      0.05f, 0.9f},
     [](Eyes& e) -> float& { return e.collarette; }},
    {{"crypts", "Crypts", "Dark pits between strands"}, [](Eyes& e) -> float& { return e.crypts; }},
    {{"furrows", "Furrows", "Folds that run around part of it"}, [](Eyes& e) -> float& { return e.furrows; }},
    {{"spots", "Spots", "Brown freckles of the iris"}, [](Eyes& e) -> float& { return e.spots; }},
    {{"flecks", "Flecks", "Specks of another colour"}, [](Eyes& e) -> float& { return e.flecks; }},
    {{"limbus", "Rim", "How wide the dark rim of the iris is", MemberUnit::Length, 0, kEndless, 0, 0.02f},
     [](Eyes& e) -> float& { return e.limbus; }},
    {{"limbus-dark", "Rim's dark", "How dark that is"}, [](Eyes& e) -> float& { return e.limbusDark; }},
    {{"recess", "Recess", "How deep the iris lies", MemberUnit::Length, 0, kEndless, 0, 0.006f},
     [](Eyes& e) -> float& { return e.recess; }},
    {{"back", "Back", "How much warmer and darker the white is behind"},
     [](Eyes& e) -> float& { return e.back; }},
    {{"corners", "Corners", "How much redder it is toward both corners"},
     [](Eyes& e) -> float& { return e.corners; }},
    {{"cast", "Cast", "Below 0 bluish as a child's, above yellow with age", MemberUnit::Part, -1, 1},
     [](Eyes& e) -> float& { return e.cast; }},
    {{"vessels", "Vessels", "How many run over the white"}, [](Eyes& e) -> float& { return e.vessels; }},
    {{"vessel-width", "Width", "How thick the thickest are", MemberUnit::Length, kLeastLength, kEndless,
      0.0001f, 0.004f},
     [](Eyes& e) -> float& { return e.vesselWidth; }},
    {{"wet-rim", "Wet rim", "How far from a lid its line of tears reaches", MemberUnit::Length, 0, kEndless,
      0, 0.012f},
     [](Eyes& e) -> float& { return e.rim; }},
    {{"third-lid", "Third lid", "How far one is drawn over the eye from its inner corner"},
     [](Eyes& e) -> float& { return e.lid; }},
    {{"gloss", "Gloss", "How wet it is"}, [](Eyes& e) -> float& { return e.gloss; }},
    {{"wander", "Wander", "How far light wanders in it: 100 % as in skin"},
     [](Eyes& e) -> float& { return e.wander; }},
};

const std::vector<std::string_view> kEyesKeys = keysWith<Eyes>(
    {"balls", "rings", "shape", "outline", "fleck-color", "white", "vessel-color", "lid-color", "seed"});

Result<std::vector<EyeBall>> ballsFrom(const nlohmann::json& list) {
  if (list.size() > kMostBalls) return Error{fmt::format("more than {} balls", kMostBalls)};
  std::vector<EyeBall> out;
  for (const auto& j : list) {
    EyeBall ball;
    const Outcome ok = JsonFields(j)
                           .whole("part", ball.part)
                           .vector("center", ball.center)
                           .number("radius", ball.radius, kLeastLength, kEndless)
                           .vector("look", ball.look)
                           .vector("up", ball.up)
                           .whole("seed", ball.seed)
                           .needs({"center", "radius"})
                           .done();
    if (!ok) return Error{fmt::format("ball {} {}", out.size() + 1, ok.error().what)};
    ball.look = normalizedOr(ball.look, Vec3::UnitZ());
    ball.up = normalizedOr(ball.up, Vec3::UnitY());
    out.push_back(ball);
  }
  return out;
}

Result<std::vector<IrisRing>> ringsFrom(const nlohmann::json& list) {
  if (list.empty() || list.size() > kMostRings)
    return Error{fmt::format("an iris has 1 to {} rings", kMostRings)};
  std::vector<IrisRing> out;
  for (const auto& j : list) {
    IrisRing ring;
    const Outcome ok = JsonFields(j)
                           .number("melanin", ring.melanin, 0, 1)
                           .value("color", ring.color, kJsonColor)
                           .number("colored", ring.colored, 0, 1)
                           .done();
    if (!ok) return Error{fmt::format("ring {} {}", out.size() + 1, ok.error().what)};
    out.push_back(ring);
  }
  return out;
}

Result<std::vector<Vec2>> outlineFrom(const nlohmann::json& list) {
  if (list.size() < 3 || list.size() > kMostOutline)
    return Error{fmt::format("an outline has 3 to {} places", kMostOutline)};
  std::vector<Vec2> out;
  for (const auto& j : list) {
    if (!j.is_array() || j.size() != 2) return Error{"a place of an outline is two numbers"};
    const auto x = numberFromJson(j[0]), y = numberFromJson(j[1]);
    if (!x || !y) return Error{"a place of an outline is two numbers"};
    out.emplace_back(std::clamp(*x, -4.f, 4.f), std::clamp(*y, -4.f, 4.f));
  }
  return out;
}

template <class T>
Outcome takeEach(const nlohmann::json* given, Result<T> (*read)(const nlohmann::json&), T& out) {
  if (!given) return Done{};
  auto value = read(*given);
  if (!value) return value.error();
  out = std::move(*value);
  return Done{};
}

Result<SourcePointer> readEyes(const nlohmann::json& parameters, size_t) {
  Eyes out;
  const nlohmann::json *balls = nullptr, *rings = nullptr, *outline = nullptr;
  std::string shape(kPupilShapes[0].second);
  JsonFields fields(parameters);
  fields.list("balls", balls)
      .list("rings", rings)
      .list("outline", outline)
      .text("shape", shape)
      .value("fleck-color", out.fleckColor, kJsonColor)
      .value("white", out.white, kJsonColor)
      .value("vessel-color", out.vesselColor, kJsonColor)
      .value("lid-color", out.lidColor, kJsonColor)
      .whole("seed", out.seed);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"eyes " + ok.error().what};
  const auto known = std::ranges::find(kPupilShapes, shape, &std::pair<PupilShape, std::string_view>::second);
  if (known == std::end(kPupilShapes)) return Error{fmt::format("eyes know no pupil '{}'", shape)};
  out.shape = known->first;
  for (const Outcome& read : {takeEach(balls, ballsFrom, out.balls), takeEach(rings, ringsFrom, out.rings),
                              takeEach(outline, outlineFrom, out.outline)})
    if (!read) return Error{"eyes: " + read.error().what};
  if (out.shape == PupilShape::Drawn && out.outline.empty())
    return Error{"eyes: a drawn pupil needs an \"outline\""};
  return eyeSource(std::move(out));
}

// As large as those of people would be on a head of that size.
SourcePointer freshEyes(const Surface& surface, const EncodedColor&) {
  const float d = surface.bounds.diagonal(), head = d / 330;  // a head of 25 cm is 33 cm across its box
  Eyes out;
  for (const Member<Eyes>& m : membersOf<Eyes>())
    if (m.facts.unit == MemberUnit::Length) m.of(out) *= head;
  return eyeSource(std::move(out));
}

SourcePointer exampleEyes(const Surface&) {
  Eyes out;
  EyeBall ball;
  ball.center = {0, 0, -3};
  ball.radius = 3;
  out.balls = {ball};
  out.iris = 0.8f;
  out.pupil = 0.28f;
  out.limbus = 0.1f;
  out.recess = 0.03f;
  out.vesselWidth = 0.02f;
  out.rim = 0;
  return eyeSource(std::move(out));
}

}  // namespace

template <>
std::span<const Member<Eyes>> membersOf() {
  return kEyesMembers;
}

const SourceKind kEyesKind{"eyes",           "Eyes",    "Iris, pupil and white on eyeballs",
                           Stratum::Surface, 2,         kEyesKeys,
                           readEyes,         freshEyes, exampleEyes,
                           nullptr,          {},        lengthsOf<Eyes>(),
                           allMembers<Eyes>};

std::span<const std::pair<PupilShape, std::string_view>> pupilShapes() {
  return kPupilShapes;
}

SourcePointer eyeSource(Eyes eyes) {
  return std::make_shared<EyeLayer>(std::move(eyes));
}

const Eyes* eyesOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const EyeLayer*>(&source);
  return layer ? &layer->eyes() : nullptr;
}

}  // namespace juvenor
