// The .gpl text format: a heading, "Name:" and "Columns:" lines, comments, then "red green blue name" a line.
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <sstream>

#include "core/color/palette.h"

namespace juvenor {
namespace {

// The format's own first line.
constexpr std::string_view kHeading = "GIMP Palette";

std::string trimmed(const std::string& text) {
  const auto first = text.find_first_not_of(" \t\r"), last = text.find_last_not_of(" \t\r");
  return first == std::string::npos ? std::string() : text.substr(first, last - first + 1);
}

}  // namespace

std::string writeGpl(const NamedPalette& palette) {
  std::string out = fmt::format("{}\nName: {}\nColumns: 0\n#\n", kHeading, palette.name);
  const auto byte = [](float v) { return static_cast<int>(std::clamp(v, 0.f, 1.f) * 255.f + 0.5f); };
  for (const NamedColor& c : palette.colors)
    out += fmt::format("{:3} {:3} {:3}\t{}\n", byte(c.color.r), byte(c.color.g), byte(c.color.b), c.name);
  return out;
}

Result<NamedPalette> readGpl(std::string_view text, const std::string& where) {
  std::istringstream in{std::string(text)};
  std::string line;
  const auto at = [&](int number) { return fmt::format("{}, line {}", where, number); };
  if (!std::getline(in, line) || trimmed(line) != kHeading)
    return Error{fmt::format("is no .gpl palette; it must begin with “{}”", kHeading), at(1)};
  NamedPalette out;
  for (int number = 2; std::getline(in, line); ++number) {
    line = trimmed(line);
    if (line.starts_with("Name:")) {
      out.name = trimmed(line.substr(5));
      continue;
    }
    if (line.empty() || line[0] == '#' || line.starts_with("Columns:")) continue;
    int r = 0, g = 0, b = 0, used = 0;
    if (std::sscanf(line.c_str(), "%d %d %d%n", &r, &g, &b, &used) != 3)
      return Error{fmt::format("three numbers were expected, found “{}”", line), at(number)};
    if (std::min({r, g, b}) < 0 || std::max({r, g, b}) > 255)
      return Error{"colours go from 0 to 255", at(number)};
    out.colors.push_back(
        {{static_cast<float>(r) / 255.f, static_cast<float>(g) / 255.f, static_cast<float>(b) / 255.f},
         trimmed(line.substr(static_cast<size_t>(used)))});
  }
  return out;
}

}  // namespace juvenor
