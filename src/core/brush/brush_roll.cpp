#include "core/brush/brush_roll.h"

#include <fmt/format.h>

#include <map>
#include <set>

#include "core/base64.h"
#include "core/brush/made_stamps.h"
#include "core/json_fields.h"
#include "core/user_folders.h"

namespace juvenor {

using nlohmann::json;

namespace {

constexpr const char* kFormat = "juvenor brushes 1";
constexpr size_t kMostBrushes = 1000;

Brush spray(float radius, float density, float dot) {
  Brush b;
  b.radius = radius;
  b.hardness = 0.1f;
  b.flow = 0.5f;
  b.step = 0.25f;
  b.pressureSize = false;
  b.pressureFlow = true;
  b.pressureDots = true;
  b.tip = TipKind::Spray;
  b.spray.density = density;
  b.spray.dotRadius = dot;
  return b;
}

Brush stamp(const char* key, float radius, float flow, float step) {
  Brush b;
  b.radius = radius;
  b.hardness = 1;
  b.flow = flow;
  b.step = step;
  b.pressureSize = false;
  b.tip = TipKind::Stamp;
  b.stamp.stamp = madeStamp(key);
  return b;
}

Brush line(float radius, float hardness, float flow) {
  Brush b;
  b.radius = radius;
  b.hardness = hardness;
  b.flow = flow;
  b.step = 0.12f;
  b.steady = 10;
  return b;
}

Brush softAir() {
  Brush b;
  b.radius = 14;
  b.hardness = 0;
  b.flow = 0.06f;
  b.step = 0.12f;
  return b;
}

Brush mottle() {
  Brush b = stamp("splotches", 13, 0.14f, 0.55f);
  b.turnBy = TurnBy::Random;
  b.spread = {0.5f, 0.4f, 0, 0.6f, 0.05f, 0.2f, 10};
  return b;
}

Brush freckle() {
  Brush b = spray(14, 0.12f, 0.75f);
  b.spray.dotSpread = 0.65f;
  b.spray.dotHardness = 0.35f;
  b.spray.ragged = 0.6f;
  b.spread = {0, 0, 0, 0.6f, 0.06f, 0.2f, 8};
  return b;
}

Brush speckle() {
  Brush b = spray(16, 0.5f, 0.45f);
  b.spray.dotSpread = 0.9f;
  b.spray.dotHardness = 0.5f;
  b.spray.ragged = 0.8f;
  b.spread = {0, 0, 0, 0.5f, 0.08f, 0.2f, 14};
  return b;
}

Brush splotch() {
  Brush b = spray(18, 0.012f, 3.2f);
  b.flow = 0.25f;
  b.spray.dotSpread = 0.7f;
  b.spray.dotHardness = 0.1f;
  b.spray.ragged = 1;
  b.spread = {0, 0, 0, 0.7f, 0.05f, 0.15f, 12};
  return b;
}

Brush powder() {
  Brush b = stamp("powder", 9, 0.12f, 0.35f);
  b.turnBy = TurnBy::Random;
  b.spread.strength = 0.5f;
  b.spread.position = 0.3f;
  return b;
}

Brush sponge() {
  Brush b = stamp("sponge", 12, 0.25f, 0.6f);
  b.turnBy = TurnBy::Random;
  b.spread = {0.3f, 0.3f, 0, 0.5f, 0.04f, 0.1f, 6};
  return b;
}

Brush alongStroke(Brush b, float angle) {
  b.turnBy = TurnBy::Stroke;
  b.angle = angle;
  return b;
}

Brush lipCracks() {
  Brush b = alongStroke(stamp("lip cracks", 5, 0.5f, 0.9f), 0);
  b.spread = {0.06f, 0.2f, 6, 0.4f, 0.03f, 0.1f, 4};
  return b;
}

Brush browHair() {
  Brush b = alongStroke(stamp("brow hairs", 5, 0.6f, 0.45f), 0);
  b.spread = {0.15f, 0.25f, 10, 0.35f, 0.05f, 0.1f, 6};
  return b;
}

Brush pore() {
  Brush b = stamp("pores", 8, 0.4f, 0.7f);
  b.turnBy = TurnBy::Random;
  b.spread = {0.25f, 0.25f, 0, 0.4f, 0, 0, 0};
  return b;
}

Brush scratch() {
  Brush b = alongStroke(stamp("scratch", 9, 0.7f, 1.6f), 0);
  b.spread = {0.1f, 0.3f, 8, 0.4f, 0, 0, 0};
  return b;
}

Brush stubble() {
  Brush b = stamp("stubble", 9, 0.5f, 0.55f);
  b.spread = {0.3f, 0.15f, 16, 0.5f, 0.05f, 0.1f, 6};
  return b;
}

Brush vein() {
  Brush b = line(0.9f, 0, 0.12f);
  b.steady = 4;
  b.spread = {0.35f, 0.4f, 0, 0.3f, 0, 0, 0};
  return b;
}

Brush smudge() {
  Brush b;
  b.radius = 8;
  b.flow = 0.6f;
  b.hardness = 0.1f;
  return b;
}

}  // namespace

const BrushRoll& usualRoll() {
  static const BrushRoll roll{{"Soft air", "lay", 0, softAir()},
                              {"Mottle", "lay", 2, mottle()},
                              {"Freckle", "lay", 2, freckle()},
                              {"Speckle", "lay", 2, speckle()},
                              {"Splotch", "lay", 2, splotch()},
                              {"Powder", "lay", 2, powder()},
                              {"Sponge", "lay", 2, sponge()},
                              {"Vein line", "lay", 2, vein()},
                              {"Lip cracks", "lay", 2, lipCracks()},
                              {"Brow hair", "lay", 2, browHair()},
                              {"Liner", "lay", 5, line(0.8f, 0.6f, 0.35f)},
                              {"Pore", "lay", 3, pore()},
                              {"Scratch", "lay", 5, scratch()},
                              {"Stubble", "lay", 2, stubble()},
                              {"Nail", "lay", 5, stamp("nail", 7, 1, 4)},
                              {"Smudge", "smear", 0, smudge()}};
  return roll;
}

namespace {

// How many scene units a millimetre of the roll is.
float unitsOf(float millimetres, float diagonal) {
  constexpr float kSmallest = 60, kLargest = 6000, kHead = 420;
  const float size = diagonal * millimetres;
  return size >= kSmallest && size <= kLargest ? 1 / millimetres : diagonal / kHead;
}

Result<std::string> bytesAt(const json& stamp, const char* key) {
  if (!stamp.contains(key)) return std::string();
  if (!stamp[key].is_string()) return Error{fmt::format("has a {} that is no text", key)};
  auto bytes = fromBase64(stamp[key].get<std::string>());
  if (!bytes) return Error{fmt::format("has a {} that is no Base64", key)};
  return std::move(*bytes);
}

Result<StampPointer> stampFrom(const json& j) {
  std::string name;
  const json *picture = nullptr, *relief = nullptr, *gloss = nullptr;
  const Outcome ok = JsonFields(j)
                         .text("name", name)
                         .any("picture", picture)
                         .any("relief", relief)
                         .any("gloss", gloss)
                         .needs({"name", "picture"})
                         .done();
  if (!ok) return Error{"a stamp " + ok.error().what};
  auto shape = bytesAt(j, "picture"), high = bytesAt(j, "relief"), wet = bytesAt(j, "gloss");
  for (const auto* bytes : {&shape, &high, &wet})
    if (!*bytes) return Error{fmt::format("the stamp '{}' {}", name, bytes->error().what)};
  return decodeStamp(std::move(*shape), name, std::move(*high), std::move(*wet));
}

Result<json> toJson(const Stamp& stamp) {
  const auto files = encodedStamp(stamp);
  if (!files) return files.error();
  json out{{"name", stamp.name()}, {"picture", toBase64(files->picture)}};
  if (!files->relief.empty()) out["relief"] = toBase64(files->relief);
  if (!files->gloss.empty()) out["gloss"] = toBase64(files->gloss);
  return out;
}

Result<BrushRoll> rollFrom(const json& all) {
  std::string format;
  const json *brushes = nullptr, *stamps = nullptr;
  if (!all.is_object() || all.value("format", json()) != json(kFormat))
    return Error{"is no set of brushes this version knows"};
  const Outcome ok = JsonFields(all)
                         .text("format", format)
                         .list("brushes", brushes)
                         .list("stamps", stamps)
                         .needs({"brushes"})
                         .done();
  if (!ok) return ok.error();
  if (brushes->size() > kMostBrushes) return Error{fmt::format("has more than {} brushes", kMostBrushes)};
  std::vector<StampPointer> own;
  for (const json& j : stamps ? *stamps : json::array()) {
    auto stamp = stampFrom(j);
    if (!stamp) return stamp.error();
    own.push_back(std::move(*stamp));
  }
  const auto lookUp = [&](const std::string& name) -> Result<StampPointer> {
    for (const StampPointer& stamp : own)
      if (stamp->name() == name) return stamp;
    if (auto made = madeStamp(name)) return made;
    return Error{fmt::format("names a stamp '{}' that is not there", name)};
  };
  BrushRoll out;
  for (const json& j : *brushes) {
    RollBrush brush;
    const json* said = nullptr;
    const Outcome read = JsonFields(j)
                             .text("name", brush.name)
                             .text("ink", brush.ink)
                             .whole("stage", brush.stage, 5)
                             .any("brush", said)
                             .needs({"name", "brush"})
                             .done();
    if (!read) return Error{fmt::format("brush {} {}", out.size() + 1, read.error().what)};
    if (const Outcome done = readBrush(*said, lookUp, brush.brush); !done)
      return Error{fmt::format("the brush '{}' {}", brush.name, done.error().message())};
    out.push_back(std::move(brush));
  }
  return out;
}

}  // namespace

Brush fitted(const Brush& brush, float millimetres, float diagonal) {
  return scaled(brush, unitsOf(millimetres, diagonal));
}

Brush inMillimetres(const Brush& brush, float millimetres, float diagonal) {
  return scaled(brush, 1 / unitsOf(millimetres, diagonal));
}

namespace {

// Stamps of a roll by what they hold; two that bear one name get two.
class OwnStamps {
 public:
  // The name under which the file holds it.
  Result<std::string> nameFor(const Stamp& stamp) {
    auto said = toJson(stamp);
    if (!said) return said.error();
    json content = *said;
    content.erase("name");
    const auto [known, isNew] = names_.emplace(textOf(content), stamp.name());
    if (!isNew) return known->second;
    for (int n = 2; !taken_.insert(known->second).second; ++n)
      known->second = fmt::format("{} {}", stamp.name(), n);
    (*said)["name"] = known->second;
    all_.push_back(std::move(*said));
    return known->second;
  }
  const json& all() const { return all_; }

 private:
  json all_ = json::array();
  std::map<std::string, std::string> names_;  // by content
  std::set<std::string> taken_;
};

}  // namespace

Result<std::string> encodedRoll(const BrushRoll& roll) {
  json brushes = json::array();
  OwnStamps stamps;
  for (const RollBrush& b : roll) {
    json brush = toJson(b.brush);
    const StampPointer& stamp = b.brush.stamp.stamp;
    // what ships need not be kept
    if (b.brush.tip == TipKind::Stamp && stamp && stamp != madeStamp(stamp->name())) {
      const auto name = stamps.nameFor(*stamp);
      if (!name) return name.error();
      brush["stamp"]["name"] = *name;
    }
    brushes.push_back({{"name", b.name}, {"ink", b.ink}, {"stage", b.stage}, {"brush", std::move(brush)}});
  }
  return textOf(json{{"format", kFormat}, {"brushes", brushes}, {"stamps", stamps.all()}}, 1);
}

Result<BrushRoll> decodedRoll(const std::string& text, const std::string& name) {
  const auto all = parsedJson(text);
  if (!all) return Error{all.error().what, name};
  auto roll = rollFrom(*all);
  if (!roll) return Error{roll.error().message(), name};
  return roll;
}

std::filesystem::path brushFolder() {
  return dataFolder() / "brushes";
}

}  // namespace juvenor
