// Binary little-endian PLY with everything a sculpt came with, in its own order, plus normals and colours.
#include <fmt/format.h>

#include <bit>

#include "core/sculpt/formats.h"
#include "core/sculpt/written_names.h"

namespace juvenor {
namespace {

static_assert(std::endian::native == std::endian::little, "write_ply copies values as they lie in memory");

constexpr size_t kShortParts = 65536;  // so many can be told by two bytes

template <class T>
void append(std::string& out, T value) {
  const auto raw = std::bit_cast<std::array<char, sizeof(T)>>(value);
  out.append(raw.data(), raw.size());
}

bool isPerVertex(const Sculpt& sculpt, const UvSet& uv) {
  return uv.coordinates.size() == sculpt.vertices.size() && uv.corner == sculpt.corners;
}

std::string headerOf(const Sculpt& sculpt, const VertexFinish& finish, bool vertexUv, bool cornerUv) {
  std::string h =
      "ply\nformat binary_little_endian 1.0\ncomment written by Juvenor\ncomment colours are sRGB-encoded\n";
  const bool parts = sculpt.parts.size() > 1;
  const std::vector<std::string> names = writtenNames(sculpt);
  for (size_t i = 0; parts && i < names.size(); ++i) h += fmt::format("comment part {} {}\n", i, names[i]);
  // far from the origin floats do not hold what the coordinates were
  const char* type = sculpt.offset.isZero() ? "float" : "double";
  h += fmt::format("element vertex {0}\nproperty {1} x\nproperty {1} y\nproperty {1} z\n",
                   sculpt.vertices.size(), type);
  if (!finish.normals.empty()) h += "property float nx\nproperty float ny\nproperty float nz\n";
  if (!finish.colors.empty()) h += "property uchar red\nproperty uchar green\nproperty uchar blue\n";
  for (const VertexNumbers& numbers : finish.numbers) h += fmt::format("property float {}\n", numbers.name);
  if (vertexUv) h += "property float s\nproperty float t\n";
  h += fmt::format("element face {}\nproperty list uint8 int vertex_indices\n", sculpt.polygonCount());
  if (cornerUv) h += "property list uint8 float texcoord\n";
  if (parts) h += sculpt.parts.size() > kShortParts ? "property uint part\n" : "property ushort part\n";
  h += "end_header\n";
  return h;
}

}  // namespace

std::string writePly(const Sculpt& sculpt, const VertexFinish& finish) {
  const UvSet* uv = sculpt.uvSets.empty() ? nullptr : &sculpt.uvSets.front();
  const bool vertexUv = uv && isPerVertex(sculpt, *uv), cornerUv = uv && !vertexUv;
  size_t largest = 0;
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) largest = std::max(largest, sculpt.polygon(p).size());
  // A list counted in one byte is what every reader knows; only huge polygons need more.
  const bool wide = largest * (cornerUv ? 2 : 1) > 255;

  std::string out = headerOf(sculpt, finish, vertexUv, cornerUv);
  if (wide)
    for (size_t at = out.find("list uint8"); at != std::string::npos; at = out.find("list uint8", at + 1))
      out.replace(at, 10, "list int");
  out.reserve(out.size() + sculpt.vertices.size() * (35 + 4 * finish.numbers.size()) +
              sculpt.corners.size() * 4 + sculpt.polygonCount() * 3);
  for (size_t i = 0; i < sculpt.vertices.size(); ++i) {
    if (sculpt.offset.isZero())
      for (int k = 0; k < 3; ++k) append(out, sculpt.vertices[i][k]);
    else
      for (int k = 0; k < 3; ++k) append(out, static_cast<double>(sculpt.vertices[i][k]) + sculpt.offset[k]);
    if (!finish.normals.empty())
      for (int k = 0; k < 3; ++k) append(out, finish.normals[i][k]);
    if (!finish.colors.empty()) {
      const EncodedColor c = straight(finish.colors[i]);
      for (const float v : {c.r, c.g, c.b})
        out.push_back(static_cast<char>(static_cast<uint8_t>(v * 255.f + 0.5f)));
    }
    for (const VertexNumbers& numbers : finish.numbers) append(out, numbers.values[i]);
    if (vertexUv)
      for (int k = 0; k < 2; ++k) append(out, uv->coordinates[i][k]);
  }
  const auto count = [&](size_t n) {
    if (wide)
      append(out, static_cast<int32_t>(n));
    else
      out.push_back(static_cast<char>(static_cast<uint8_t>(n)));
  };
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    const auto polygon = sculpt.polygon(p);
    count(polygon.size());
    for (const uint32_t v : polygon) append(out, static_cast<int32_t>(v));
    if (cornerUv) {
      count(polygon.size() * 2);
      for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c) {
        const Vec2 t = uv->corner[c] == kNone ? Vec2(0, 0) : uv->coordinates[uv->corner[c]];
        append(out, t.x());
        append(out, t.y());
      }
    }
    if (sculpt.parts.size() > kShortParts)
      append(out, sculpt.polygonPart[p]);
    else if (sculpt.parts.size() > 1)
      append(out, static_cast<uint16_t>(sculpt.polygonPart[p]));
  }
  return out;
}

}  // namespace juvenor
