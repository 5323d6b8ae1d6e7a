#include "core/sculpt/ply_rows.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cstring>

#include "core/parallel.h"

namespace juvenor {
namespace {

bool isColor(PlyRole role) {
  return role == PlyRole::Red || role == PlyRole::Green || role == PlyRole::Blue;
}

// The lowest of several numbers that cores come upon in any order.
void noteLowest(std::atomic<size_t>& lowest, size_t value) {
  size_t known = lowest;
  while (value < known && !lowest.compare_exchange_weak(known, value)) {
  }
}

// Where things lie in a row of faces, from its begin for what comes before the list, else from the list's
// end.
struct FaceRow {
  size_t before = 0, behind = 0;  ///< bytes around the list
  const PlyProperty* part = nullptr;
  bool partBehind = false;
  size_t partPlace = 0;
};

FaceRow faceRowOf(const PlyElement& faces) {
  FaceRow row;
  bool listed = false;
  for (const PlyProperty& p : faces.properties) {
    size_t& place = listed ? row.behind : row.before;
    if (p.role == PlyRole::Part) {
      row.part = &p;
      row.partBehind = listed;
      row.partPlace = place;
    }
    listed = listed || p.count;
    if (!p.count) place += sizeOf(p.type);
  }
  return row;
}

}  // namespace

bool isFixedPly(const PlyHeader& header, const PlyElement& vertices) {
  return !header.text && !header.swap && std::ranges::none_of(vertices.properties, [](const PlyProperty& p) {
    return p.count || (p.type == PlyType::Double &&
                       (p.role == PlyRole::X || p.role == PlyRole::Y || p.role == PlyRole::Z));
  });
}

Outcome readFixedPlyVertices(std::string_view bytes, size_t& at, const PlyElement& vertices, bool withNormals,
                             bool withColors, Sculpt& into, std::vector<Vec2>* uvs) {
  const auto count = static_cast<size_t>(vertices.count);
  size_t stride = 0;
  struct Wanted {
    PlyType type;
    PlyRole role;
    size_t place;
    float unit;
  };
  std::vector<Wanted> wanted;
  for (const PlyProperty& p : vertices.properties) {
    if (p.role != PlyRole::Other)
      wanted.push_back({p.type, p.role, stride, isColor(p.role) ? plyColorUnit(p.type) : 1.f});
    stride += sizeOf(p.type);
  }
  if ((bytes.size() - at) / stride < count) return Error{"the file ends too early"};
  into.vertices.resize(count);
  if (withNormals) into.normals.resize(count);
  if (withColors) into.colors.resize(count);
  if (uvs) uvs->resize(count);
  std::atomic<size_t> wrong = count;
  parallel(count, [&](size_t i) {
    const char* row = bytes.data() + at + i * stride;
    std::array<float, 13> values{};  // by role
    for (const Wanted& w : wanted)
      values[static_cast<size_t>(w.role)] = static_cast<float>(plyValue(w.type, row + w.place)) * w.unit;
    const auto of = [&](PlyRole role) { return values[static_cast<size_t>(role)]; };
    into.vertices[i] = {of(PlyRole::X), of(PlyRole::Y), of(PlyRole::Z)};
    if (!into.vertices[i].allFinite()) noteLowest(wrong, i);
    if (withNormals) into.normals[i] = {of(PlyRole::NormalX), of(PlyRole::NormalY), of(PlyRole::NormalZ)};
    if (withColors) into.colors[i] = opaque16({of(PlyRole::Red), of(PlyRole::Green), of(PlyRole::Blue)});
    if (uvs) (*uvs)[i] = {of(PlyRole::U), of(PlyRole::V)};
  });
  at += wrong * stride;
  if (wrong < count) return Error{fmt::format("vertex {} is not a finite point", wrong + 1)};
  return Done{};
}

bool isPlainPly(const PlyHeader& header, const PlyElement& faces) {
  if (header.text || header.swap) return false;
  const auto lists = std::ranges::count_if(faces.properties, [](const PlyProperty& p) { return !!p.count; });
  const auto colored =
      std::ranges::any_of(faces.properties, [](const PlyProperty& p) { return isColor(p.role); });
  return lists == 1 && !colored && std::ranges::all_of(faces.properties, [](const PlyProperty& p) {
           return !p.count || (p.role == PlyRole::Indices && sizeOf(*p.count) == 1 &&
                               (p.type == PlyType::Int32 || p.type == PlyType::Uint32));
         });
}

Outcome readPlainPlyFaces(std::string_view bytes, size_t& at, const PlyElement& faces, Sculpt& into,
                          const Progress& progress) {
  const FaceRow row = faceRowOf(faces);
  std::vector<uint32_t>& start = into.polygonStart;
  if (start.empty()) start.push_back(0);
  // where each polygon's corners lie, then all of them side by side
  std::vector<size_t> place;
  place.reserve(faces.count);
  start.reserve(start.size() + faces.count);
  const size_t before = start.size() - 1;
  for (uint64_t i = 0; i < faces.count; ++i) {
    const size_t room = bytes.size() - at, fixed = row.before + 1 + row.behind;
    const size_t n = room > row.before ? static_cast<unsigned char>(bytes[at + row.before]) : 0;
    if (room < fixed + 4 * n) return Error{"the file ends too early"};
    if (n >= 3) {
      place.push_back(at + row.before + 1);
      start.push_back(start.back() + static_cast<uint32_t>(n));
    }
    at += fixed + 4 * n;
  }
  if (!report(progress, 0.6f)) return cancelledError();
  into.corners.resize(start.back());
  into.polygonPart.resize(start.size() - 1, 0);
  parallel(place.size(), [&](size_t i) {
    const uint32_t from = start[before + i], n = start[before + i + 1] - from;
    std::memcpy(&into.corners[from], bytes.data() + place[i], 4 * size_t{n});
    if (!row.part) return;
    const size_t begin = row.partBehind ? place[i] + 4 * size_t{n} : place[i] - 1 - row.before;
    const double part = plyValue(row.part->type, bytes.data() + begin + row.partPlace);
    if (part >= 0 && part < kNone) into.polygonPart[before + i] = static_cast<uint32_t>(part);
  });
  if (place.size() < faces.count)
    into.remarks.push_back(
        fmt::format("{} faces with fewer than three corners were left out", faces.count - place.size()));
  return Done{};
}

}  // namespace juvenor
