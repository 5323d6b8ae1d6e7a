#include "core/sculpt/ply_header.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <bit>
#include <charconv>
#include <cstring>

namespace juvenor {
namespace {

using Words = std::vector<std::string_view>;

std::optional<PlyType> typeNamed(std::string_view name) {
  constexpr std::pair<std::string_view, PlyType> kTypes[] = {
      {"char", PlyType::Int8},     {"int8", PlyType::Int8},     {"uchar", PlyType::Uint8},
      {"uint8", PlyType::Uint8},   {"short", PlyType::Int16},   {"int16", PlyType::Int16},
      {"ushort", PlyType::Uint16}, {"uint16", PlyType::Uint16}, {"int", PlyType::Int32},
      {"int32", PlyType::Int32},   {"uint", PlyType::Uint32},   {"uint32", PlyType::Uint32},
      {"float", PlyType::Float},   {"float32", PlyType::Float}, {"double", PlyType::Double},
      {"float64", PlyType::Double}};
  for (const auto& [text, type] : kTypes)
    if (text == name) return type;
  return std::nullopt;
}

Words wordsOf(std::string_view line) {
  Words words;
  size_t i = 0;
  while (i < line.size()) {
    while (i < line.size() && (line[i] == ' ' || line[i] == '\t')) ++i;
    const size_t from = i;
    while (i < line.size() && line[i] != ' ' && line[i] != '\t') ++i;
    if (i > from) words.push_back(line.substr(from, i - from));
  }
  return words;
}

PlyRole roleOf(const std::string& element, const PlyProperty& p) {
  constexpr std::pair<std::string_view, PlyRole> kVertex[] = {{"x", PlyRole::X},
                                                              {"y", PlyRole::Y},
                                                              {"z", PlyRole::Z},
                                                              {"nx", PlyRole::NormalX},
                                                              {"ny", PlyRole::NormalY},
                                                              {"nz", PlyRole::NormalZ},
                                                              {"red", PlyRole::Red},
                                                              {"green", PlyRole::Green},
                                                              {"blue", PlyRole::Blue},
                                                              {"r", PlyRole::Red},
                                                              {"g", PlyRole::Green},
                                                              {"b", PlyRole::Blue},
                                                              {"diffuse_red", PlyRole::Red},
                                                              {"diffuse_green", PlyRole::Green},
                                                              {"diffuse_blue", PlyRole::Blue},
                                                              {"s", PlyRole::U},
                                                              {"t", PlyRole::V},
                                                              {"u", PlyRole::U},
                                                              {"v", PlyRole::V},
                                                              {"texture_u", PlyRole::U},
                                                              {"texture_v", PlyRole::V}};
  // of faces the colour alone is taken
  const auto isColor = [](PlyRole role) {
    return role == PlyRole::Red || role == PlyRole::Green || role == PlyRole::Blue;
  };
  if ((element == "vertex" || element == "face") && !p.count)
    for (const auto& [name, role] : kVertex)
      if (name == p.name && (element == "vertex" || isColor(role))) return role;
  if (element == "tristrips" && p.count && (p.name == "vertex_indices" || p.name == "vertex_index"))
    return PlyRole::Indices;
  if (element == "face") {
    if (p.count && (p.name == "vertex_indices" || p.name == "vertex_index")) return PlyRole::Indices;
    if (p.count && p.name == "texcoord") return PlyRole::Texcoords;
    if (!p.count && p.name == "part") return PlyRole::Part;
  }
  return PlyRole::Other;
}

Outcome readProperty(const Words& words, PlyHeader& header) {
  if (header.elements.empty()) return Error{"a property stands before any element"};
  PlyProperty p;
  const bool list = words.size() >= 5 && words[1] == "list";
  if (!list && words.size() < 3) return Error{"expected 'property TYPE NAME'"};
  if (list) {
    p.count = typeNamed(words[2]);
    if (!p.count || *p.count >= PlyType::Float)
      return Error{fmt::format("'{}' cannot count a list", words[2])};
  }
  const auto type = typeNamed(words[list ? 3 : 1]);
  if (!type) return Error{fmt::format("'{}' is no type of a property", words[list ? 3 : 1])};
  p.type = *type;
  p.name = words[list ? 4 : 2];
  p.role = roleOf(header.elements.back().name, p);
  header.elements.back().properties.push_back(p);
  return Done{};
}

Outcome readFormat(const Words& words, PlyHeader& header) {
  if (words.size() < 2) return Error{"expected a format after 'format'"};
  header.text = words[1] == "ascii";
  const bool little = words[1] == "binary_little_endian", big = words[1] == "binary_big_endian";
  if (!header.text && !little && !big) return Error{fmt::format("'{}' is no format of PLY", words[1])};
  header.swap = little != (std::endian::native == std::endian::little) && !header.text;
  return Done{};
}

Outcome readElement(const Words& words, PlyHeader& header) {
  PlyElement e;
  if (words.size() < 3 || std::from_chars(words[2].begin(), words[2].end(), e.count).ec != std::errc())
    return Error{"expected 'element NAME COUNT'"};
  e.name = words[1];
  header.elements.push_back(std::move(e));
  return Done{};
}

void readComment(const Words& words, std::string_view line, PlyHeader& header) {
  uint32_t n = 0;
  if (words.size() >= 4 && words[1] == "part" &&
      std::from_chars(words[2].begin(), words[2].end(), n).ec == std::errc())
    header.partNames.emplace_back(n, line.substr(static_cast<size_t>(words[3].data() - line.data())));
}

Outcome readLine(std::string_view line, PlyHeader& header) {
  const Words words = wordsOf(line);
  if (words.empty()) return Done{};
  if (words[0] == "format") return readFormat(words, header);
  if (words[0] == "element") return readElement(words, header);
  if (words[0] == "property") return readProperty(words, header);
  if (words[0] == "comment") readComment(words, line, header);
  return Done{};
}

template <class T>
double fetch(const char* from, bool swap) {
  std::array<char, sizeof(T)> raw;
  std::memcpy(raw.data(), from, sizeof(T));
  if (swap) std::reverse(raw.begin(), raw.end());
  return static_cast<double>(std::bit_cast<T>(raw));
}

}  // namespace

size_t sizeOf(PlyType type) {
  constexpr size_t kSizes[] = {1, 1, 2, 2, 4, 4, 4, 8};
  return kSizes[static_cast<size_t>(type)];
}

double plyValue(PlyType type, const char* from, bool swap) {
  switch (type) {
    case PlyType::Int8:
      return fetch<int8_t>(from, false);
    case PlyType::Uint8:
      return fetch<uint8_t>(from, false);
    case PlyType::Int16:
      return fetch<int16_t>(from, swap);
    case PlyType::Uint16:
      return fetch<uint16_t>(from, swap);
    case PlyType::Int32:
      return fetch<int32_t>(from, swap);
    case PlyType::Uint32:
      return fetch<uint32_t>(from, swap);
    case PlyType::Float:
      return fetch<float>(from, swap);
    default:
      return fetch<double>(from, swap);
  }
}

float plyColorUnit(PlyType type) {
  if (type == PlyType::Float || type == PlyType::Double) return 1.f;
  // whoever writes colours as whole numbers of four bytes means 0 to 255 (common practice)
  return sizeOf(type) == 2 ? 1.f / 65535 : 1.f / 255;
}

Result<PlyHeader> readPlyHeader(std::string_view bytes, size_t& at) {
  PlyHeader header;
  if (!bytes.starts_with("ply")) return Error{"does not begin with 'ply'"};
  for (;;) {
    const size_t end = bytes.find('\n', at);
    if (end == std::string_view::npos) return Error{"the header does not end; expected 'end_header'"};
    std::string_view line = bytes.substr(at, end - at);
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (const Outcome read = readLine(line, header); !read) return read.error();
    at = end + 1;
    if (line == "end_header" || line.starts_with("end_header ")) return header;
  }
}

}  // namespace juvenor
