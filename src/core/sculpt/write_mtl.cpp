// The library of materials beside an OBJ file: Kd and friends as the format has had them from the start, and
// the lines for physically based shading that are common practice (Pr, Pm, norm).
#include <fmt/format.h>

#include <iterator>

#include "core/sculpt/formats.h"

namespace juvenor {

std::string writeMtl(const MaterialSet& materials) {
  std::string out = "# written by Juvenor; map_Kd is sRGB-encoded, all other pictures are data\n";
  const auto to = std::back_inserter(out);
  for (const Material& m : materials.materials) {
    fmt::format_to(to, "\nnewmtl {}\nKd 1 1 1\nKs 0.04 0.04 0.04\nillum 2\n", m.name);
    const auto put = [&](std::string_view key, int picture) {
      if (picture >= 0)
        fmt::format_to(to, "{} {}\n", key, materials.pictures[static_cast<size_t>(picture)].name);
    };
    put("map_Kd", m.baseColor);
    put("map_Pr", m.roughness);
    put("map_Pm", m.metal);
    put("norm", m.normal);
    put("map_Ke", m.emission);
  }
  return out;
}

}  // namespace juvenor
