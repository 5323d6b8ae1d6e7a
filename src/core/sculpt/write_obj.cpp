// Wavefront OBJ with everything a sculpt came with, in its own order, plus normals and colours.
#include <fmt/compile.h>
#include <fmt/format.h>

#include <iterator>

#include "core/sculpt/formats.h"
#include "core/sculpt/written_names.h"

namespace juvenor {
namespace {

bool namedInOrder(const Sculpt& sculpt) {
  uint32_t known = 0;
  for (const uint32_t part : sculpt.polygonPart) {
    if (part > known) return false;
    if (part == known) ++known;
  }
  return known == sculpt.parts.size();
}

std::string written(const Sculpt& sculpt, const VertexFinish& finish, const MaterialSet* materials,
                    const std::string& library) {
  std::string out;
  const auto to = std::back_inserter(out);
  fmt::format_to(to, "# written by Juvenor: {} vertices, {} polygons; colours are sRGB-encoded, 0 to 1\n",
                 sculpt.vertices.size(), sculpt.polygonCount());
  if (materials) fmt::format_to(to, "mtllib {}\n", library);
  for (size_t i = 0; i < sculpt.vertices.size(); ++i) {
    const Vec3& v = sculpt.vertices[i];
    if (sculpt.offset.isZero()) {
      fmt::format_to(to, FMT_COMPILE("v {} {} {}"), v.x(), v.y(), v.z());
    } else {
      const Eigen::Vector3d p = v.cast<double>() + sculpt.offset;
      fmt::format_to(to, FMT_COMPILE("v {} {} {}"), p.x(), p.y(), p.z());
    }
    if (!finish.colors.empty()) {
      const EncodedColor c = straight(finish.colors[i]);
      fmt::format_to(to, FMT_COMPILE(" {:.6f} {:.6f} {:.6f}"), c.r, c.g, c.b);
    }
    out.push_back('\n');
  }
  const UvSet* uv = sculpt.uvSets.empty() ? nullptr : &sculpt.uvSets.front();
  if (uv)
    for (const Vec2& t : uv->coordinates) fmt::format_to(to, FMT_COMPILE("vt {} {}\n"), t.x(), t.y());
  for (const Vec3& n : finish.normals)
    fmt::format_to(to, FMT_COMPILE("vn {:.5f} {:.5f} {:.5f}\n"), n.x(), n.y(), n.z());

  const std::vector<std::string> names = writtenNames(sculpt);
  // Parts come back in the order they are named: where polygons would name them in another, all are named
  // first.
  if (!namedInOrder(sculpt))
    for (const std::string& name : names) fmt::format_to(to, "o {}\n", name);
  uint32_t part = kNone, material = kNone;
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    if (sculpt.polygonPart[p] != part) {
      part = sculpt.polygonPart[p];
      fmt::format_to(to, "o {}\n", names[part]);
    }
    if (materials && materials->polygonMaterial[p] != material) {
      material = materials->polygonMaterial[p];
      fmt::format_to(to, "usemtl {}\n", materials->materials[material].name);
    }
    out.push_back('f');
    for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c) {
      const uint64_t v = uint64_t{sculpt.corners[c]} + 1;
      const bool textured = uv && uv->corner[c] != kNone;
      fmt::format_to(to, FMT_COMPILE(" {}"), v);
      if (textured) fmt::format_to(to, FMT_COMPILE("/{}"), uint64_t{uv->corner[c]} + 1);
      if (!finish.normals.empty()) fmt::format_to(to, FMT_COMPILE("{}{}"), textured ? "/" : "//", v);
    }
    out.push_back('\n');
  }
  return out;
}

}  // namespace

std::string writeObj(const Sculpt& sculpt, const VertexFinish& finish) {
  return written(sculpt, finish, nullptr, {});
}

std::string writeTexturedObj(const Sculpt& sculpt, const VertexFinish& finish, const MaterialSet& materials,
                             const std::string& library) {
  return written(sculpt, finish, &materials, library);
}

}  // namespace juvenor
