// PLY (Greg Turk, Stanford 1994): text and both binary orders, polygons of any size, vertex colours of 8
// bits, 16 bits or float (sRGB-encoded: common practice), UVs per vertex (s t, u v, texture_u texture_v) or
// per corner (the face list `texcoord`). A face property `part` named by lines `comment part N name` brings
// parts.
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <bit>
#include <charconv>
#include <cmath>
#include <cstring>

#include "core/parallel.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/number_text.h"

namespace juvenor {
namespace {

enum class Type { Int8, Uint8, Int16, Uint16, Int32, Uint32, Float, Double };

int sizeOf(Type t) {
  constexpr int kSizes[] = {1, 1, 2, 2, 4, 4, 4, 8};
  return kSizes[static_cast<int>(t)];
}

std::optional<Type> typeNamed(std::string_view name) {
  constexpr std::pair<std::string_view, Type> kTypes[] = {
      {"char", Type::Int8},   {"int8", Type::Int8},     {"uchar", Type::Uint8},   {"uint8", Type::Uint8},
      {"short", Type::Int16}, {"int16", Type::Int16},   {"ushort", Type::Uint16}, {"uint16", Type::Uint16},
      {"int", Type::Int32},   {"int32", Type::Int32},   {"uint", Type::Uint32},   {"uint32", Type::Uint32},
      {"float", Type::Float}, {"float32", Type::Float}, {"double", Type::Double}, {"float64", Type::Double}};
  for (const auto& [text, type] : kTypes)
    if (text == name) return type;
  return std::nullopt;
}

// What a property means to us; Other is read over.
enum class Role {
  Other,
  X,
  Y,
  Z,
  NormalX,
  NormalY,
  NormalZ,
  Red,
  Green,
  Blue,
  U,
  V,
  Indices,
  Texcoords,
  Part
};

struct Property {
  std::string name;
  Type type = Type::Float;
  std::optional<Type> count;  // for lists
  Role role = Role::Other;
};

struct Element {
  std::string name;
  uint64_t count = 0;
  std::vector<Property> properties;
};

class PlyReader {
 public:
  PlyReader(std::string_view bytes, const std::string& where, const Progress& progress)
      : bytes_(bytes), where_(where), progress_(progress) {}
  Result<Sculpt> read();

 private:
  bool fail(std::string what) {
    error_ = {std::move(what), fmt::format("{}, byte {}", where_, at_)};
    return false;
  }
  bool header();
  bool headerLine(std::string_view line);
  bool propertyLine(const std::vector<std::string_view>& words);
  bool body();
  bool elements(const Element& element);
  bool vertexRow(const Element& element);
  bool faceRow(const Element& element);
  bool skipRow(const Element& element);
  bool value(Type type, double& out);
  bool listLength(const Property& property, uint64_t& out);
  bool fixedVertices(const Element& element);
  bool plainFaces(const Element& element);
  bool isFixed(const Element& element) const;
  bool isPlainList(const Element& element) const;
  bool enoughBytes(const Element& element);
  bool noteReport(uint64_t row);

  std::string_view bytes_;
  std::string where_;
  const Progress& progress_;
  size_t at_ = 0;
  bool text_ = false, swap_ = false, done_ = false;
  std::vector<Element> elements_;
  Error error_;
  Sculpt sculpt_;
  std::vector<std::pair<uint32_t, std::string>> partNames_;
  std::vector<Eigen::Vector3d> positions_;
  bool normals_ = false, colored_ = false, vertexUv_ = false, faceUv_ = false, faceParts_ = false;
  UvSet uv_{"UV", {}, {}};
};

std::vector<std::string_view> wordsOf(std::string_view line) {
  std::vector<std::string_view> words;
  size_t i = 0;
  while (i < line.size()) {
    while (i < line.size() && (line[i] == ' ' || line[i] == '\t')) ++i;
    const size_t from = i;
    while (i < line.size() && line[i] != ' ' && line[i] != '\t') ++i;
    if (i > from) words.push_back(line.substr(from, i - from));
  }
  return words;
}

Role roleOf(const std::string& element, const Property& p) {
  constexpr std::pair<std::string_view, Role> kVertex[] = {{"x", Role::X},
                                                           {"y", Role::Y},
                                                           {"z", Role::Z},
                                                           {"nx", Role::NormalX},
                                                           {"ny", Role::NormalY},
                                                           {"nz", Role::NormalZ},
                                                           {"red", Role::Red},
                                                           {"green", Role::Green},
                                                           {"blue", Role::Blue},
                                                           {"r", Role::Red},
                                                           {"g", Role::Green},
                                                           {"b", Role::Blue},
                                                           {"diffuse_red", Role::Red},
                                                           {"diffuse_green", Role::Green},
                                                           {"diffuse_blue", Role::Blue},
                                                           {"s", Role::U},
                                                           {"t", Role::V},
                                                           {"u", Role::U},
                                                           {"v", Role::V},
                                                           {"texture_u", Role::U},
                                                           {"texture_v", Role::V}};
  if (element == "vertex" && !p.count)
    for (const auto& [name, role] : kVertex)
      if (name == p.name) return role;
  if (element == "face") {
    if (p.count && (p.name == "vertex_indices" || p.name == "vertex_index")) return Role::Indices;
    if (p.count && p.name == "texcoord") return Role::Texcoords;
    if (!p.count && p.name == "part") return Role::Part;
  }
  return Role::Other;
}

bool PlyReader::propertyLine(const std::vector<std::string_view>& words) {
  if (elements_.empty()) return fail("a property stands before any element");
  Property p;
  const bool list = words.size() >= 5 && words[1] == "list";
  if (!list && words.size() < 3) return fail("expected 'property TYPE NAME'");
  if (list) {
    p.count = typeNamed(words[2]);
    if (!p.count || *p.count >= Type::Float) return fail(fmt::format("'{}' cannot count a list", words[2]));
  }
  const auto type = typeNamed(words[list ? 3 : 1]);
  if (!type) return fail(fmt::format("'{}' is no type of a property", words[list ? 3 : 1]));
  p.type = *type;
  p.name = words[list ? 4 : 2];
  p.role = roleOf(elements_.back().name, p);
  elements_.back().properties.push_back(p);
  return true;
}

bool PlyReader::headerLine(std::string_view line) {
  const auto words = wordsOf(line);
  if (words.empty()) return true;
  if (words[0] == "comment") {
    uint32_t n = 0;
    if (words.size() >= 4 && words[1] == "part" &&
        std::from_chars(words[2].begin(), words[2].end(), n).ec == std::errc())
      partNames_.emplace_back(n,
                              std::string(line.substr(static_cast<size_t>(words[3].data() - line.data()))));
    return true;
  }
  if (words[0] == "format") {
    if (words.size() < 2) return fail("expected a format after 'format'");
    text_ = words[1] == "ascii";
    const bool little = words[1] == "binary_little_endian", big = words[1] == "binary_big_endian";
    if (!text_ && !little && !big) return fail(fmt::format("'{}' is no format of PLY", words[1]));
    swap_ = little != (std::endian::native == std::endian::little) && !text_;
    return true;
  }
  if (words[0] == "element") {
    Element e;
    if (words.size() < 3 || std::from_chars(words[2].begin(), words[2].end(), e.count).ec != std::errc())
      return fail("expected 'element NAME COUNT'");
    e.name = words[1];
    elements_.push_back(std::move(e));
    return true;
  }
  if (words[0] == "property") return propertyLine(words);
  if (words[0] == "end_header") done_ = true;
  return true;
}

bool PlyReader::header() {
  if (!bytes_.starts_with("ply")) return fail("does not begin with 'ply'");
  while (!done_) {
    const size_t end = bytes_.find('\n', at_);
    if (end == std::string_view::npos) return fail("the header does not end; expected 'end_header'");
    std::string_view line = bytes_.substr(at_, end - at_);
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (!headerLine(line)) return false;
    at_ = end + 1;
  }
  return true;
}

template <class T>
double fetch(const char* from, bool swap) {
  std::array<char, sizeof(T)> raw;
  std::memcpy(raw.data(), from, sizeof(T));
  if (swap) std::reverse(raw.begin(), raw.end());
  return static_cast<double>(std::bit_cast<T>(raw));
}

double valueOf(Type type, const char* from, bool swap = false) {
  switch (type) {
    case Type::Int8:
      return fetch<int8_t>(from, false);
    case Type::Uint8:
      return fetch<uint8_t>(from, false);
    case Type::Int16:
      return fetch<int16_t>(from, swap);
    case Type::Uint16:
      return fetch<uint16_t>(from, swap);
    case Type::Int32:
      return fetch<int32_t>(from, swap);
    case Type::Uint32:
      return fetch<uint32_t>(from, swap);
    case Type::Float:
      return fetch<float>(from, swap);
    default:
      return fetch<double>(from, swap);
  }
}

bool isColor(Role role) {
  return role == Role::Red || role == Role::Green || role == Role::Blue;
}

bool isFinitePoint(const Eigen::Vector3d& v) {
  return v.allFinite() && v.cwiseAbs().maxCoeff() <= static_cast<double>(std::numeric_limits<float>::max());
}

float colorUnit(Type type) {
  if (type == Type::Float || type == Type::Double) return 1.f;
  return sizeOf(type) == 1 ? 1.f / 255 : 1.f / 65535;
}

bool PlyReader::value(Type type, double& out) {
  if (text_) {
    while (at_ < bytes_.size() && std::isspace(static_cast<unsigned char>(bytes_[at_]))) ++at_;
    const char* next = readNumber(bytes_.data() + at_, bytes_.data() + bytes_.size(), out);
    if (!next)
      return fail(at_ >= bytes_.size() ? "the file ends too early; expected a number" : "expected a number");
    if (std::isinf(out)) return fail("a number is too large");
    at_ = static_cast<size_t>(next - bytes_.data());
    return true;
  }
  const size_t size = static_cast<size_t>(sizeOf(type));
  if (bytes_.size() - at_ < size) return fail("the file ends too early");
  out = valueOf(type, bytes_.data() + at_, swap_);
  at_ += size;
  return true;
}

bool PlyReader::listLength(const Property& property, uint64_t& out) {
  double n = 0;
  if (!value(*property.count, n)) return false;
  const double room = static_cast<double>(bytes_.size() - at_) / (text_ ? 1 : sizeOf(property.type));
  if (!(n >= 0) || n > room + 1)
    return fail(fmt::format("a list of {} entries does not fit into the file", n));
  out = static_cast<uint64_t>(n);
  return true;
}

bool PlyReader::vertexRow(const Element& element) {
  Eigen::Vector3d v = Eigen::Vector3d::Zero();
  Vec3 normal = Vec3::Zero();
  Vec2 uv = Vec2::Zero();
  EncodedColor color;
  for (const Property& p : element.properties) {
    double x = 0;
    if (p.count) {
      uint64_t n = 0;
      if (!listLength(p, n)) return false;
      for (uint64_t i = 0; i < n; ++i)
        if (!value(p.type, x)) return false;
      continue;
    }
    if (!value(p.type, x)) return false;
    const float f = static_cast<float>(x);
    switch (p.role) {
      case Role::X:
        v.x() = x;
        break;
      case Role::Y:
        v.y() = x;
        break;
      case Role::Z:
        v.z() = x;
        break;
      case Role::NormalX:
        normal.x() = f;
        break;
      case Role::NormalY:
        normal.y() = f;
        break;
      case Role::NormalZ:
        normal.z() = f;
        break;
      case Role::Red:
        color.r = f * colorUnit(p.type);
        break;
      case Role::Green:
        color.g = f * colorUnit(p.type);
        break;
      case Role::Blue:
        color.b = f * colorUnit(p.type);
        break;
      case Role::U:
        uv.x() = f;
        break;
      case Role::V:
        uv.y() = f;
        break;
      default:
        break;
    }
  }
  if (!isFinitePoint(v)) return fail(fmt::format("vertex {} is not a finite point", positions_.size() + 1));
  positions_.push_back(v);
  if (normals_) sculpt_.normals.push_back(normal);
  if (colored_) sculpt_.colors.push_back(opaque16(color));
  if (vertexUv_) uv_.coordinates.push_back(uv);
  return true;
}

bool PlyReader::faceRow(const Element& element) {
  const size_t first = sculpt_.corners.size();
  uint32_t part = 0;
  for (const Property& p : element.properties) {
    double x = 0;
    uint64_t n = 1;
    if (p.count && !listLength(p, n)) return false;
    Vec2 uv = Vec2::Zero();
    for (uint64_t i = 0; i < n; ++i) {
      if (!value(p.type, x)) return false;
      if (p.role == Role::Indices) {
        if (!(x >= 0) || x >= kNone)
          return fail(
              fmt::format("face {} names vertex {}; expected 0 or more", sculpt_.polygonPart.size() + 1, x));
        sculpt_.corners.push_back(static_cast<uint32_t>(x));
      } else if (p.role == Role::Part) {
        part = x >= 0 && x < 65536 ? static_cast<uint32_t>(x) : 0;
      } else if (p.role == Role::Texcoords) {
        uv[i % 2] = static_cast<float>(x);
        if (i % 2 == 1) uv_.coordinates.push_back(uv);
      }
    }
  }
  const size_t size = sculpt_.corners.size() - first;
  if (size < 3) {
    // Scans do carry lines and points in their face lists; they have no area to colour.
    sculpt_.corners.resize(first);
    if (sculpt_.remarks.empty())
      sculpt_.remarks.push_back("faces with fewer than three corners were left out");
    if (faceUv_) uv_.coordinates.resize(std::min(uv_.coordinates.size(), first));
    return true;
  }
  if (faceUv_) {
    uv_.coordinates.resize(sculpt_.corners.size(), Vec2::Zero());
  }
  if (sculpt_.polygonStart.empty()) sculpt_.polygonStart.push_back(0);
  sculpt_.polygonStart.push_back(static_cast<uint32_t>(sculpt_.corners.size()));
  sculpt_.polygonPart.push_back(part);
  return true;
}

bool PlyReader::skipRow(const Element& element) {
  for (const Property& p : element.properties) {
    uint64_t n = 1;
    if (p.count && !listLength(p, n)) return false;
    double ignored = 0;
    for (uint64_t i = 0; i < n; ++i)
      if (!value(p.type, ignored)) return false;
  }
  return true;
}

// Counts in a header are claims; the bytes that follow are what there is.
bool PlyReader::enoughBytes(const Element& element) {
  uint64_t least = 0;
  for (const Property& p : element.properties)
    least += text_ ? 2 : static_cast<uint64_t>(sizeOf(p.count ? *p.count : p.type));
  const uint64_t room = bytes_.size() - at_ + 1;
  if (least > 0 && element.count > room / least + 1)
    return fail(fmt::format("the header promises {} of '{}', but only {} bytes follow", element.count,
                            element.name, bytes_.size() - at_));
  if (least == 0 && element.count > 0)
    return fail(fmt::format("element '{}' has no properties", element.name));
  if (element.count >= kNone)
    return fail(fmt::format("{} of '{}' are more than can be held", element.count, element.name));
  return true;
}

// Rows of the same length one after the other in the machine's own order: they are read side by side.
bool PlyReader::isFixed(const Element& element) const {
  return !text_ && !swap_ && std::ranges::none_of(element.properties, [](const Property& p) {
    return p.count ||
           (p.type == Type::Double && (p.role == Role::X || p.role == Role::Y || p.role == Role::Z));
  });
}

bool PlyReader::fixedVertices(const Element& element) {
  const auto count = static_cast<size_t>(element.count);
  size_t stride = 0;
  std::vector<std::pair<Property, size_t>> wanted;  // and where each lies in a row
  for (const Property& p : element.properties) {
    if (p.role != Role::Other) wanted.emplace_back(p, stride);
    stride += static_cast<size_t>(sizeOf(p.type));
  }
  if (bytes_.size() - at_ < stride * count) return fail("the file ends too early");
  sculpt_.vertices.resize(count);
  if (normals_) sculpt_.normals.resize(count);
  if (colored_) sculpt_.colors.resize(count);
  if (vertexUv_) uv_.coordinates.resize(count);
  std::atomic<size_t> wrong = count;
  parallel(count, [&](size_t i) {
    const char* row = bytes_.data() + at_ + i * stride;
    std::array<float, 13> values{};  // by role
    for (const auto& [p, place] : wanted)
      values[static_cast<size_t>(p.role)] =
          static_cast<float>(valueOf(p.type, row + place)) * (isColor(p.role) ? colorUnit(p.type) : 1.f);
    const auto at = [&](Role role) { return values[static_cast<size_t>(role)]; };
    sculpt_.vertices[i] = {at(Role::X), at(Role::Y), at(Role::Z)};
    if (!sculpt_.vertices[i].allFinite()) {
      size_t known = wrong;
      while (i < known && !wrong.compare_exchange_weak(known, i)) {
      }
    }
    if (normals_) sculpt_.normals[i] = {at(Role::NormalX), at(Role::NormalY), at(Role::NormalZ)};
    if (colored_) sculpt_.colors[i] = opaque16({at(Role::Red), at(Role::Green), at(Role::Blue)});
    if (vertexUv_) uv_.coordinates[i] = {at(Role::U), at(Role::V)};
  });
  if (wrong < count) {
    at_ += wrong * stride;
    return fail(fmt::format("vertex {} is not a finite point", wrong + 1));
  }
  at_ += stride * count;
  return true;
}

// The commonest of all: a list counted in a byte, of numbers of four bytes, and nothing else.
bool PlyReader::isPlainList(const Element& element) const {
  if (text_ || swap_ || element.properties.size() != 1) return false;
  const Property& p = element.properties.front();
  return p.role == Role::Indices && p.count && sizeOf(*p.count) == 1 &&
         (p.type == Type::Int32 || p.type == Type::Uint32);
}

bool PlyReader::plainFaces(const Element& element) {
  const auto* bytes = reinterpret_cast<const unsigned char*>(bytes_.data());
  std::vector<uint32_t>& start = sculpt_.polygonStart;
  if (start.empty()) start.push_back(0);
  size_t left = 0, at = at_;
  // where each polygon lies, then all of them side by side
  std::vector<size_t> place;
  place.reserve(element.count);
  for (uint64_t i = 0; i < element.count; ++i) {
    const size_t n = at < bytes_.size() ? bytes[at] : 0;
    if (at >= bytes_.size() || bytes_.size() - at - 1 < 4 * n) {
      at_ = at;
      return fail("the file ends too early");
    }
    if (n >= 3) {
      place.push_back(at + 1);
      start.push_back(start.back() + static_cast<uint32_t>(n));
    } else {
      ++left;
    }
    at += 1 + 4 * n;
  }
  if (!report(progress_, 0.6f)) {
    error_ = cancelledError();
    return false;
  }
  const size_t before = start.size() - 1 - place.size();
  sculpt_.corners.resize(start.back());
  parallel(place.size(), [&](size_t i) {
    const uint32_t from = start[before + i];
    std::memcpy(&sculpt_.corners[from], bytes + place[i], 4 * size_t{start[before + i + 1] - from});
  });
  sculpt_.polygonPart.resize(start.size() - 1, 0);
  if (left > 0) sculpt_.remarks.push_back("faces with fewer than three corners were left out");
  at_ = at;
  return true;
}

bool PlyReader::noteReport(uint64_t row) {
  if (row % 65536 != 0) return true;
  if (report(progress_, 0.1f + 0.8f * static_cast<float>(at_) / static_cast<float>(bytes_.size())))
    return true;
  error_ = cancelledError();
  return false;
}

bool PlyReader::elements(const Element& element) {
  if (!enoughBytes(element)) return false;
  const bool vertex = element.name == "vertex", face = element.name == "face";
  int axes = 0;
  bool indices = false;
  for (const Property& p : element.properties) {
    axes += p.role == Role::X || p.role == Role::Y || p.role == Role::Z;
    normals_ |= p.role == Role::NormalX;
    colored_ |= p.role == Role::Red;
    vertexUv_ |= p.role == Role::U;
    faceUv_ |= p.role == Role::Texcoords && !vertexUv_;
    faceParts_ |= p.role == Role::Part;
    indices |= p.role == Role::Indices;
  }
  if (vertex && axes != 3) return fail("vertices need the properties x, y and z");
  if (face && element.count > 0 && !indices) return fail("faces need the list vertex_indices");
  if (vertex && isFixed(element)) return fixedVertices(element);
  if (face && isPlainList(element)) return plainFaces(element);
  if (vertex) positions_.reserve(element.count);
  if (face) sculpt_.polygonStart.reserve(element.count + 1);
  for (uint64_t i = 0; i < element.count; ++i) {
    const bool ok = vertex ? vertexRow(element) : face ? faceRow(element) : skipRow(element);
    if (!ok || !noteReport(i)) return false;
  }
  return true;
}

bool PlyReader::body() {
  for (const Element& e : elements_)
    if (!elements(e)) return false;
  return true;
}

Result<Sculpt> PlyReader::read() {
  if (!header() || !body()) return error_;
  if (positions_.empty())
    placeVertices(sculpt_);
  else
    placeVertices(sculpt_, positions_);
  if (vertexUv_) {
    uv_.corner = sculpt_.corners;
    uv_.coordinates.resize(sculpt_.vertices.size());
    sculpt_.uvSets.push_back(std::move(uv_));
  } else if (faceUv_) {
    uv_.coordinates.resize(sculpt_.corners.size(), Vec2::Zero());
    uv_.corner.resize(sculpt_.corners.size());
    for (uint32_t i = 0; i < uv_.corner.size(); ++i) uv_.corner[i] = i;
    sculpt_.uvSets.push_back(std::move(uv_));
  }
  uint32_t last = 0;
  for (const uint32_t p : sculpt_.polygonPart) last = std::max(last, p);
  if (faceParts_) {
    for (uint32_t i = 0; i <= last; ++i) sculpt_.parts.push_back(fmt::format("Part {}", i + 1));
    for (const auto& [i, name] : partNames_)
      if (i <= last) sculpt_.parts[i] = name;
  }
  const Outcome checked = finishSculpt(sculpt_, where_);
  if (!checked) return checked.error();
  return std::move(sculpt_);
}

}  // namespace

Result<Sculpt> readPly(std::string_view bytes, const std::string& where, const Progress& progress) {
  return PlyReader(bytes, where, progress).read();
}

}  // namespace juvenor
