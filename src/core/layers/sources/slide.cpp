// Slides thrown as a live layer: the photo follows when its slide is placed anew, and a mask painted over it
// stays.
#include <fmt/format.h>

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"
#include "core/layers/sources/thrown.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// Colour and detail of all slides mixed at one sample.
struct Mixed {
  LinearColor color;
  float cover = 0, detail = 0;
};

// The slides' lists side by side, sample by sample in ascending order.
class Mixer {
 public:
  Mixer(std::span<const std::vector<Thrown>> slides, size_t first, size_t end) {
    for (const auto& s : slides) {
      const auto low = std::ranges::lower_bound(s, static_cast<uint32_t>(first), {}, &Thrown::sample);
      const auto high = std::ranges::lower_bound(s, static_cast<uint32_t>(end), {}, &Thrown::sample);
      if (low != high) rows_.emplace_back(low, high);
    }
  }

  bool empty() const { return rows_.empty(); }
  Mixed at(uint32_t sample) {
    Mixed out;
    float open = 1, weights = 0;
    for (std::span<const Thrown>& row : rows_) {
      if (row.empty() || row.front().sample != sample) continue;
      const Thrown& t = row.front();
      open *= 1 - t.cover;
      weights += t.weight;
      out.color = {out.color.r + t.weight * t.color.r, out.color.g + t.weight * t.color.g,
                   out.color.b + t.weight * t.color.b};
      out.detail += t.weight * t.detail;
      row = row.subspan(1);
    }
    if (!(weights > 0)) return {};
    out.color = {out.color.r / weights, out.color.g / weights, out.color.b / weights};
    out.detail /= weights;
    out.cover = 1 - open;
    return out;
  }

 private:
  std::vector<std::span<const Thrown>> rows_;
};

// Factors of detail as 16 bits: their logarithms over six doublings.
uint16_t packedFactor(float factor) {
  return to16(0.5f + std::log2(std::max(factor, 1e-4f)) / (2 * kMostDetail));
}
float factorOf(uint16_t packed) {
  static const std::vector<float> table = [] {
    std::vector<float> out(65536);
    for (size_t v = 0; v < out.size(); ++v)
      out[v] = std::exp2((from16(static_cast<uint16_t>(v)) - 0.5f) * 2 * kMostDetail);
    return out;
  }();
  return table[packed];
}

struct ThrownFields {
  ColorField color;  ///< of detail: packed factors and the cover
  CoverField gloss;
  ScalarField relief;
  size_t reached = 0;

  size_t bytes() const { return color.bytes() + gloss.bytes() + relief.bytes(); }
};

uint16_t scaled(uint16_t value, float by) {
  return static_cast<uint16_t>(static_cast<float>(value) * by + 0.5f);
}

// One chunk of every channel the throw brings.
class ChunkMaker {
 public:
  ChunkMaker(const Throw& setting, size_t samples, float reliefStep)
      : setting_(setting), samples_(samples), reliefStep_(reliefStep) {}

  void make(std::span<const std::vector<Thrown>> slides, size_t c, ThrownFields& out) const {
    const size_t first = c * kChunkSize, end = std::min(samples_, first + kChunkSize);
    Mixer mixer(slides, first, end);
    if (mixer.empty()) return;
    auto color = std::make_shared<ColorChunk>();
    auto gloss = std::make_shared<CoverChunk>();
    auto relief = std::make_shared<ScalarChunk>();
    relief->plane[0].fill(kLevel);
    for (size_t s = first; s < end; ++s) {
      const Mixed m = mixer.at(static_cast<uint32_t>(s));
      if (!(m.cover > 0)) continue;
      const size_t i = s - first;
      setSample(*color, i, colorOf(m));
      const float wet = std::clamp(from16(kBareGloss) + 0.5f * setting_.gloss * m.detail, 0.f, 1.f);
      gloss->plane[0][i] = to16(wet * m.cover);
      gloss->plane[1][i] = to16(m.cover);
      relief->plane[0][i] = height16(setting_.relief * m.detail * m.cover, reliefStep_);
    }
    const ChannelSet brings = setting_.channels();
    if (brings.has(Channel::Color)) out.color.setChunk(c, std::move(color));
    if (brings.has(Channel::Gloss)) out.gloss.setChunk(c, std::move(gloss));
    if (brings.has(Channel::Relief)) out.relief.setChunk(c, std::move(relief));
  }

 private:
  Rgba16 colorOf(const Mixed& m) const {
    const uint16_t cover = to16(m.cover);
    if (setting_.part == PhotoPart::Detail)
      return {packedFactor(m.color.r), packedFactor(m.color.g), packedFactor(m.color.b), cover};
    const auto of = [&](float linear) { return scaled(encodeSrgb16(linear), m.cover); };
    return {of(m.color.r), of(m.color.g), of(m.color.b), cover};
  }

  const Throw& setting_;
  size_t samples_;
  float reliefStep_;
};

using FieldsPointer = std::shared_ptr<const ThrownFields>;

Result<FieldsPointer> fieldsFor(const Throw& setting, SurfaceMaps& maps, const Progress& progress) {
  std::vector<std::vector<Thrown>> slides;
  for (const Slide& slide : setting.slides) {
    if (!slide.picture) return Error{fmt::format("the picture of the slide “{}” is missing", slide.name)};
    auto thrown = thrownBy(slide, setting, maps, progress);
    if (!thrown) return thrown.error();
    slides.push_back(std::move(*thrown));
  }
  if (setting.part != PhotoPart::Detail) levelSeams(slides, maps, setting.level);
  const size_t samples = maps.size();
  auto out = std::make_shared<ThrownFields>();
  out->color = ColorField(samples);
  out->gloss = CoverField(samples);
  out->relief = ScalarField(samples, {kLevel});
  out->color.makeRoom();
  out->gloss.makeRoom();
  out->relief.makeRoom();
  const ChunkMaker maker(setting, samples, maps.reliefStep());
  parallel(
      chunkCount(samples), [&](size_t c) { maker.make(slides, c, *out); }, 1);
  for (const auto& s : slides) out->reached += s.size();
  return FieldsPointer(std::move(out));
}

class PreparedThrow final : public PreparedSource {
 public:
  PreparedThrow(const Throw& setting, FieldsPointer fields)
      : channels_(setting.channels()),
        detail_(setting.part == PhotoPart::Detail),
        any_(!setting.slides.empty()),
        fields_(std::move(fields)) {}

  ChannelSet channels() const override { return channels_; }
  bool readsBelow() const override { return detail_; }
  ColorField::Pointer colors(const ChunkAsk& ask, const ColorChunk& below) const override {
    const ColorField::Pointer& own = fields_->color.chunk(ask.index);
    if (!own || !detail_) return own;
    auto out = std::make_shared<ColorChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) {
      const uint16_t cover = own->plane[3][i];
      if (cover == 0) continue;
      for (size_t p = 0; p < 3; ++p) {
        const float linear = decodeSrgb16(below.plane[p][i]) * factorOf(own->plane[p][i]);
        out->plane[p][i] = scaled(encodeSrgb16(linear), from16(cover));
      }
      out->plane[3][i] = cover;
    }
    return out;
  }
  CoverField::Pointer covers(Channel channel, const ChunkAsk& ask) const override {
    return channel == Channel::Gloss ? fields_->gloss.chunk(ask.index) : nullptr;
  }
  ScalarField::Pointer heights(Channel, const ChunkAsk& ask) const override {
    return fields_->relief.chunk(ask.index);
  }
  std::string note() const override {
    if (!any_) return "no slide is thrown yet";
    return fields_->reached == 0 ? "the slide meets no skin that faces it" : "";
  }
  bool markChanges(Channel channel, const PreparedSource& before, std::vector<char>& marks) const override {
    const auto* old = dynamic_cast<const PreparedThrow*>(&before);
    if (!old || old->detail_ != detail_) return false;
    if (old->fields_ == fields_) return true;
    old->markContent(channel, marks);
    markContent(channel, marks);
    return true;
  }
  void markContent(Channel channel, std::vector<char>& marks) const override {
    for (size_t c = 0; c < marks.size(); ++c)
      if (channel == Channel::Color    ? fields_->color.chunk(c) != nullptr
          : channel == Channel::Gloss  ? fields_->gloss.chunk(c) != nullptr
          : channel == Channel::Relief ? fields_->relief.chunk(c) != nullptr
                                       : false)
        marks[c] = 1;
  }

 private:
  ChannelSet channels_;
  bool detail_, any_;
  FieldsPointer fields_;
};

// A slide's name may be any bytes a file was called by.
std::string keyOf(const nlohmann::json& parameters) {
  return textOf(parameters);
}

class ThrowLayer final : public LayerSource {
 public:
  explicit ThrowLayer(Throw thrown) : thrown_(std::move(thrown)), key_("thrown " + keyOf(parameters())) {}
  const Throw& thrown() const { return thrown_; }

  const SourceKind& kind() const override { return kSlideKind; }
  nlohmann::json parameters() const override {
    nlohmann::json slides = nlohmann::json::array();
    for (const Slide& s : thrown_.slides) slides.push_back(toJson(s));
    nlohmann::json out{{"slides", slides},
                       {"part", photoPartKey(thrown_.part)},
                       {"color", thrown_.color},
                       {"without", thrown_.without}};
    addMembers(out, thrown_);
    return out;
  }
  std::string remark() const override {
    return thrown_.slides.size() == 1 ? "1 slide" : fmt::format("{} slides", thrown_.slides.size());
  }
  ChannelSet channels() const override { return thrown_.channels(); }
  SourcePointer refined(const Refined&) const override { return throwSource(thrown_); }
  std::vector<PicturePointer> pictures() const override {
    std::vector<PicturePointer> out;
    for (const Slide& s : thrown_.slides)
      if (s.picture) out.push_back(s.picture);
    return out;
  }
  Result<SourcePointer> withPictures(const FindPicture& find) const override {
    Throw out = thrown_;
    for (Slide& s : out.slides) {
      auto found = find(s.fingerprint, s.name);
      if (!found) return found.error();
      s.picture = std::move(*found);
    }
    return throwSource(std::move(out));
  }
  bool isReady(SurfaceMaps& maps) const override { return maps.hasDerived(key_); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const override {
    const auto fields = maps.derived<ThrownFields>(key_, [&] { return fieldsFor(thrown_, maps, progress); });
    if (!fields) return fields.error();
    return PreparedSourcePointer(std::make_shared<PreparedThrow>(thrown_, *fields));
  }

 private:
  Throw thrown_;
  std::string key_;
};

constexpr Member<Throw> kThrowMembers[] = {
    {{"split", "Detail under", "What is finer is detail, what is broader tone", MemberUnit::Length,
      kLeastLength, kEndless, 0.0005f, 0.08f},
     [](Throw& t) -> float& { return t.split; }},
    {{"reach", "Reach", "How far the skin may turn away from the photo until nothing lands on it",
      MemberUnit::Degrees, 1, 89, 20, 89},
     [](Throw& t) -> float& { return t.reach; }},
    {{"feather", "Feather", "Over how much of the photo it dies out toward its edges", MemberUnit::Part, 0, 1,
      0, 0.5f},
     [](Throw& t) -> float& { return t.feather; }},
    {{"level", "Levelled over",
      "Slides that overlap are brought to one tone over this way along the skin; 0 leaves them as they are",
      MemberUnit::Length, 0, kEndless, 0, 0.1f},
     [](Throw& t) -> float& { return t.level; }},
    {{"relief", "Relief", "How high stands out what is twice as bright as around it; below 0 it sinks",
      MemberUnit::Length, -kEndless, kEndless, -0.004f, 0.004f},
     [](Throw& t) -> float& { return t.relief; }},
    {{"gloss", "Gloss", "How much wetter what is twice as bright is"},
     [](Throw& t) -> float& { return t.gloss; }},
};

const std::vector<std::string_view> kThrowKeys = keysWith<Throw>({"slides", "part", "color", "without"});

Result<SourcePointer> readThrow(const nlohmann::json& parameters, size_t) {
  Throw out;
  const nlohmann::json* slides = nullptr;
  const nlohmann::json* without = nullptr;
  std::string part(photoPartKey(out.part));
  JsonFields fields(parameters);
  fields.list("slides", slides).text("part", part).flag("color", out.color).list("without", without);
  const Outcome ok = readMembers(fields, out).done();
  if (!ok) return Error{"a throw " + ok.error().what};
  const auto known = photoPartFromKey(part);
  if (!known) return Error{fmt::format("a throw lays \"all\", \"detail\" or \"tone\", not '{}'", part)};
  out.part = *known;
  for (size_t i = 0; without && i < without->size(); ++i) {
    const nlohmann::json& left = (*without)[i];
    if (!left.is_number_unsigned() || left.get<uint64_t>() >= kNone)
      return Error{"a throw leaves out a part that has no number"};
    out.without.insert(left.get<uint32_t>());
  }
  for (size_t i = 0; slides && i < slides->size(); ++i) {
    auto slide = slideFromJson((*slides)[i]);
    if (!slide) return slide.error();
    out.slides.push_back(std::move(*slide));
  }
  return throwSource(std::move(out));
}

SourcePointer freshThrow(const Surface& surface, const EncodedColor&) {
  Throw out;
  out.split = 0.01f * surface.bounds.diagonal();
  out.level = 0.05f * surface.bounds.diagonal();
  return throwSource(std::move(out));
}

// A photo of freckled skin, made up.
PicturePointer examplePicture() {
  constexpr int kSide = 64;
  auto out = std::make_shared<PictureData>();
  out->width = out->height = kSide;
  for (int y = 0; y < kSide; ++y)
    for (int x = 0; x < kSide; ++x) {
      const float u = static_cast<float>(x) / 9, v = static_cast<float>(y) / 8;
      const float spot =
          std::max(0.f, std::sin(2.1f * u + std::sin(1.7f * v)) * std::cos(1.9f * v + u) - 0.3f);
      const auto byte = [&](float of, float less) {
        return static_cast<uint32_t>(std::clamp(of - less * spot, 0.f, 1.f) * 255 + 0.5f);
      };
      out->pixels.push_back(0xff000000u | byte(0.8f, 0.5f) << 16 | byte(0.6f, 0.55f) << 8 |
                            byte(0.48f, 0.5f));
    }
  return out;
}

SourcePointer exampleThrow(const Surface&) {
  Slide slide;
  slide.picture = examplePicture();
  slide.name = "example";
  slide.camera.distance = 6;
  slide.half = 0.55f;
  slide.turn = 12;
  Throw out;
  out.slides = {slide};
  out.split = 0.2f;
  out.level = 0;
  return throwSource(std::move(out));
}

}  // namespace

template <>
std::span<const Member<Throw>> membersOf() {
  return kThrowMembers;
}

const SourceKind kSlideKind{"slide",          "Slide",    "Photos thrown onto the form from where one looked",
                            Stratum::Surface, 4,          kThrowKeys,
                            readThrow,        freshThrow, exampleThrow,
                            nullptr,          {},         lengthsOf<Throw>(),
                            allMembers<Throw>};

ChannelSet Throw::channels() const {
  ChannelSet out;
  if (color) out |= Channel::Color;
  if (relief != 0) out |= Channel::Relief;
  if (gloss > 0) out |= Channel::Gloss;
  return out;
}

SourcePointer throwSource(Throw thrown) {
  return std::make_shared<ThrowLayer>(std::move(thrown));
}

const Throw* throwOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const ThrowLayer*>(&source);
  return layer ? &layer->thrown() : nullptr;
}

}  // namespace juvenor
