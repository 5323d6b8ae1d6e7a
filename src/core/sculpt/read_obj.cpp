// Wavefront OBJ, as its published description (appendix B1) has it: v, vt, f with 1-based or negative
// indices, o and g as parts, and the widely used `v x y z r g b` colours (0…1, sRGB-encoded: common
// practice). Vertex order, polygons and UVs stay exactly as in the file. Objects are the parts; groups when
// there are none.
#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <unordered_map>

#include "core/sculpt/formats.h"
#include "core/sculpt/number_text.h"

namespace juvenor {
namespace {

class ObjReader {
 public:
  ObjReader(std::string_view text, const std::string& where, const Progress& progress)
      : at_(text.data()),
        end_(text.data() + text.size()),
        begin_(text.data()),
        where_(where),
        progress_(progress) {}

  Result<Sculpt> read();

 private:
  bool fail(std::string what) {
    error_ = {std::move(what), fmt::format("{}, line {}", where_, line_)};
    return false;
  }
  void skipBlanks() {
    for (; at_ < end_; ++at_) {
      if (*at_ == ' ' || *at_ == '\t' || *at_ == '\r') continue;
      // a backslash at the end of a line goes on with the next one
      if (*at_ == '\\' && at_ + 1 < end_ && (at_[1] == '\n' || at_[1] == '\r')) {
        while (at_ < end_ && *at_ != '\n') ++at_;
        ++line_;
        continue;
      }
      break;
    }
  }
  bool atLineEnd() const { return at_ >= end_ || *at_ == '\n' || *at_ == '#'; }
  void skipLine() {
    while (at_ < end_ && *at_ != '\n') ++at_;
    if (at_ < end_) ++at_;
    ++line_;
  }
  std::string_view word() {
    const char* from = at_;
    while (at_ < end_ && *at_ != ' ' && *at_ != '\t' && *at_ != '\r' && *at_ != '\n') ++at_;
    return {from, static_cast<size_t>(at_ - from)};
  }
  bool number(float& out) {
    skipBlanks();
    const char* next = readNumber(at_, end_, out);
    if (!next) return false;
    at_ = next;
    return true;
  }
  bool index(size_t count, const char* kind, uint32_t& out);
  bool vertex();
  bool textureVertex();
  bool face();
  bool statement();
  uint32_t named(std::vector<std::string>& names, std::unordered_map<std::string, uint32_t>& known);
  void chooseParts();

  const char* at_;
  const char* end_;
  const char* begin_;
  std::string where_;
  const Progress& progress_;
  size_t line_ = 1;
  Error error_;
  Sculpt sculpt_;
  UvSet uv_{"UV", {}, {}};
  bool anyUv_ = false;
  std::vector<Rgba16> colors_;
  std::vector<std::string> objects_, groups_;
  std::unordered_map<std::string, uint32_t> knownObjects_, knownGroups_;
  uint32_t object_ = kNone, group_ = kNone;
  std::vector<uint32_t> polygonObject_, polygonGroup_;
  size_t skippedElements_ = 0;
};

bool ObjReader::index(size_t count, const char* kind, uint32_t& out) {
  long long value = 0;
  const auto [next, ec] = std::from_chars(at_, end_, value);
  if (ec != std::errc()) return fail(fmt::format("expected a {} number in a face", kind));
  at_ = next;
  const long long resolved = value > 0 ? value - 1 : static_cast<long long>(count) + value;
  // Faces may name vertices that follow later in the file, so only nonsense is refused here.
  if (value == 0 || resolved < 0 || resolved >= kNone)
    return fail(fmt::format("{} number {} is out of range; {} are known so far", kind, value, count));
  out = static_cast<uint32_t>(resolved);
  return true;
}

bool ObjReader::vertex() {
  Vec3 v;
  for (int i = 0; i < 3; ++i)
    if (!number(v[i])) return fail("expected three coordinates after 'v'");
  if (!v.allFinite()) return fail("a coordinate is not a finite number");
  float extra[4];
  int extras = 0;
  skipBlanks();
  while (extras < 4 && !atLineEnd()) {
    if (!number(extra[extras])) return fail("expected a number in a vertex line");
    ++extras;
    skipBlanks();
  }
  if (extras >= 3) {
    colors_.resize(sculpt_.vertices.size(), {65535, 65535, 65535, 65535});
    colors_.push_back(opaque16({extra[0], extra[1], extra[2]}));
  }
  sculpt_.vertices.push_back(v);
  return true;
}

bool ObjReader::textureVertex() {
  Vec2 t(0, 0);
  if (!number(t[0])) return fail("expected a coordinate after 'vt'");
  number(t[1]);
  uv_.coordinates.push_back(t);
  return true;
}

bool ObjReader::face() {
  const size_t first = sculpt_.corners.size();
  for (skipBlanks(); !atLineEnd(); skipBlanks()) {
    uint32_t v = 0, t = kNone;
    if (!index(sculpt_.vertices.size(), "vertex", v)) return false;
    if (at_ < end_ && *at_ == '/') {
      ++at_;
      if (at_ < end_ && *at_ != '/' && *at_ != ' ' && *at_ != '\n' && *at_ != '\r') {
        if (!index(uv_.coordinates.size(), "UV", t)) return false;
        anyUv_ = true;
      }
      if (at_ < end_ && *at_ == '/') {
        ++at_;
        uint32_t ignoredNormal = 0;
        if (!atLineEnd() && *at_ != ' ' && *at_ != '\r' && *at_ != '\t' &&
            !index(kNone / 2, "normal", ignoredNormal))
          return false;
      }
    }
    sculpt_.corners.push_back(v);
    uv_.corner.push_back(t);
  }
  if (sculpt_.corners.size() - first < 3) return fail("a face needs at least three corners");
  if (sculpt_.polygonStart.empty()) sculpt_.polygonStart.push_back(0);
  sculpt_.polygonStart.push_back(static_cast<uint32_t>(sculpt_.corners.size()));
  polygonObject_.push_back(object_);
  polygonGroup_.push_back(group_);
  return true;
}

uint32_t ObjReader::named(std::vector<std::string>& names, std::unordered_map<std::string, uint32_t>& known) {
  skipBlanks();
  const char* from = at_;
  while (at_ < end_ && *at_ != '\n' && *at_ != '\r') ++at_;
  std::string name(from, static_cast<size_t>(at_ - from));
  while (!name.empty() && (name.back() == ' ' || name.back() == '\t')) name.pop_back();
  if (name.empty()) name = "default";
  const auto [it, fresh] = known.try_emplace(name, static_cast<uint32_t>(names.size()));
  if (fresh) names.push_back(name);
  return it->second;
}

bool ObjReader::statement() {
  skipBlanks();
  if (atLineEnd()) return true;
  const std::string_view key = word();
  if (key == "v") return vertex();
  if (key == "vt") return textureVertex();
  if (key == "f" || key == "fo") return face();
  if (key == "o") object_ = named(objects_, knownObjects_);
  if (key == "g") group_ = named(groups_, knownGroups_);
  if (key == "l" || key == "p" || key == "curv" || key == "surf") ++skippedElements_;
  return true;
}

void ObjReader::chooseParts() {
  const bool byObject = !objects_.empty();
  sculpt_.parts = byObject ? std::move(objects_) : std::move(groups_);
  sculpt_.polygonPart = byObject ? std::move(polygonObject_) : std::move(polygonGroup_);
  if (sculpt_.parts.empty()) {
    sculpt_.polygonPart.clear();
    return;
  }
  uint32_t unnamed = kNone;
  for (uint32_t& p : sculpt_.polygonPart) {
    if (p != kNone) continue;
    if (unnamed == kNone) {
      unnamed = static_cast<uint32_t>(sculpt_.parts.size());
      sculpt_.parts.push_back("default");
    }
    p = unnamed;
  }
}

Result<Sculpt> ObjReader::read() {
  const char* nextReport = at_;
  while (at_ < end_) {
    if (!statement()) return error_;
    skipLine();
    if (at_ >= nextReport) {
      nextReport = at_ + (1 << 22);
      if (!report(progress_,
                  0.1f + 0.8f * static_cast<float>(at_ - begin_) / static_cast<float>(end_ - begin_)))
        return cancelledError();
    }
  }
  if (!colors_.empty()) colors_.resize(sculpt_.vertices.size(), {65535, 65535, 65535, 65535});
  sculpt_.colors = std::move(colors_);
  if (anyUv_) sculpt_.uvSets.push_back(std::move(uv_));
  chooseParts();
  if (skippedElements_ > 0)
    sculpt_.remarks.push_back(fmt::format("{} lines, points or curves were left out", skippedElements_));
  const Outcome checked = finishSculpt(sculpt_, where_);
  if (!checked) return checked.error();
  return std::move(sculpt_);
}

}  // namespace

Result<Sculpt> readObj(std::string_view text, const std::string& where, const Progress& progress) {
  return ObjReader(text, where, progress).read();
}

}  // namespace juvenor
