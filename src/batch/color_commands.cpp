// The subcommands about colours alone: palette and tone.
#include <fmt/format.h>

#include <iostream>

#include "batch/commands.h"
#include "core/color/palette.h"
#include "core/color/skin_tone.h"
#include "core/files.h"
#include "core/json_fields.h"
#include "core/photo/picture_data.h"
#include "core/sculpt/formats.h"

namespace juvenor::batch {

Outcome palette(const fs::path& picture, int count, const fs::path& out) {
  const auto data = readPicture(picture);
  if (!data) return data.error();
  const auto colors = paletteOf((*data)->pixels, count);
  if (!colors) return colors.error();
  NamedPalette named{picture.stem().string(), {}};
  for (const PaletteColor& c : *colors) {
    const std::string name = fmt::format("{} {:.1f} %", toHex(c.color), 100 * c.share);
    named.colors.push_back({c.color, name});
    if (out.empty()) std::cout << name << "\n";
  }
  if (out.empty()) return Done{};
  if (out.extension() != ".gpl") return Error{"a palette is written as .gpl", out.string()};
  return writeBytes(out, writeGpl(named));
}

Outcome tone(float melanin, float blood, float yellow) {
  for (const float v : {melanin, blood, yellow})
    if (!(v >= 0 && v <= 1)) return Error{"melanin, blood and yellow go from 0 to 1"};
  const SkinTone tone{melanin, blood, yellow};
  const Lab lab = labOf(tone);
  const double angle = typologyAngle(lab);
  const nlohmann::json out{
      {"color", toHex(colorOf(tone))}, {"L*", lab.l}, {"a*", lab.a}, {"b*", lab.b}, {"ITA", angle},
      {"class", typologyClass(angle)}};
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

}  // namespace juvenor::batch
