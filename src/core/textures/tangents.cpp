#include "core/textures/tangents.h"

#include <cfloat>
#include <cmath>
#include <cstring>

#include "core/parallel.h"

namespace juvenor {
namespace {

using Corners = std::array<TangentCorner, 3>;

bool isSome(float value) {
  return std::abs(value) > FLT_MIN;
}
bool isSome(const Vec3& v) {
  return isSome(v.x()) || isSome(v.y()) || isSome(v.z());
}
Vec3 unitOr(const Vec3& v) {
  return isSome(v) ? Vec3(v / v.norm()) : v;
}
Vec3 inPlane(const Vec3& v, const Vec3& normal) {
  return unitOr(v - normal.dot(v) * normal);
}

// Corners that are the same in every number, by the first of them.
class Welded {
 public:
  explicit Welded(std::span<const Corners> triangles) : corner_(3 * triangles.size()) {
    size_t room = 1024;
    while (room < 2 * corner_.size()) room *= 2;
    std::vector<uint32_t> table(room, kNone);
    for (uint32_t c = 0; c < corner_.size(); ++c) {
      const Key key = keyOf(triangles[c / 3][c % 3]);
      size_t at = hash(key) & (room - 1);
      while (table[at] != kNone && keyOf(triangles[table[at] / 3][table[at] % 3]) != key)
        at = (at + 1) & (room - 1);
      if (table[at] == kNone) table[at] = c;
      corner_[c] = table[at];
    }
  }
  uint32_t operator()(size_t triangle, size_t corner) const { return corner_[3 * triangle + corner]; }

 private:
  using Key = std::array<uint32_t, 8>;
  static Key keyOf(const TangentCorner& c) {
    // (−0 and 0 are the same number)
    const std::array<float, 8> values{c.position.x() + 0.f, c.position.y() + 0.f, c.position.z() + 0.f,
                                      c.normal.x() + 0.f,   c.normal.y() + 0.f,   c.normal.z() + 0.f,
                                      c.uv.x() + 0.f,       c.uv.y() + 0.f};
    Key out;
    std::memcpy(out.data(), values.data(), sizeof out);
    return out;
  }
  static size_t hash(const Key& key) {
    uint64_t h = 1469598103934665603ULL;
    for (const uint32_t k : key) h = (h ^ k) * 0x9e3779b97f4a7c15ULL;
    return h ^ (h >> 32);
  }
  std::vector<uint32_t> corner_;
};

struct Face {
  Vec3 along = Vec3::Zero(), up = Vec3::Zero();  // where u and v go, unit where they go anywhere
  bool flat = true;      // no area in the layout, or no size: it goes along with any group
  bool forward = false;  // seen from the front in the layout
  bool broken = false;   // two corners in one place
  std::array<uint32_t, 3> neighbor{kNone, kNone, kNone};  // over the edge from each corner to the next
  std::array<uint32_t, 3> group{kNone, kNone, kNone};     // of each corner
};

Face faceOf(const Corners& t) {
  Face out;
  const Vec3 d1 = t[1].position - t[0].position, d2 = t[2].position - t[0].position;
  out.broken = d1.isZero(0) || d2.isZero(0) || t[1].position == t[2].position;
  const Vec2 a = t[1].uv - t[0].uv, b = t[2].uv - t[0].uv;
  const float area = a.x() * b.y() - a.y() * b.x();
  const Vec3 along = b.y() * d1 - a.y() * d2, up = -b.x() * d1 + a.x() * d2;
  out.forward = area > 0;
  if (!isSome(area)) return out;
  const float way = out.forward ? 1.f : -1.f, lengthAlong = along.norm(), lengthUp = up.norm();
  if (isSome(lengthAlong)) out.along = way / lengthAlong * along;
  if (isSome(lengthUp)) out.up = way / lengthUp * up;
  out.flat = !(isSome(lengthAlong / std::abs(area)) && isSome(lengthUp / std::abs(area)));
  return out;
}

// Faces on both sides of an edge walk it in opposite directions; the first two that do are neighbours.
void joinFaces(const Welded& welded, std::vector<Face>& faces) {
  struct Side {
    uint32_t low, high, face;
    uint8_t edge;
    bool upward;
  };
  std::vector<Side> sides;
  sides.reserve(3 * faces.size());
  for (uint32_t f = 0; f < faces.size(); ++f)
    for (uint8_t e = 0; e < 3 && !faces[f].broken; ++e) {
      const uint32_t a = welded(f, e), b = welded(f, (e + 1u) % 3);
      sides.push_back({std::min(a, b), std::max(a, b), f, e, a < b});
    }
  std::ranges::stable_sort(sides, [](const Side& a, const Side& b) {
    return std::tie(a.low, a.high, a.face) < std::tie(b.low, b.high, b.face);
  });
  for (size_t i = 0; i < sides.size(); ++i) {
    const Side& a = sides[i];
    if (faces[a.face].neighbor[a.edge] != kNone) continue;
    for (size_t j = i + 1; j < sides.size() && sides[j].low == a.low && sides[j].high == a.high; ++j) {
      const Side& b = sides[j];
      if (b.upward == a.upward || faces[b.face].neighbor[b.edge] != kNone) continue;
      faces[a.face].neighbor[a.edge] = b.face;
      faces[b.face].neighbor[b.edge] = a.face;
      break;
    }
  }
}

struct Group {
  uint32_t corner;  // the welded one
  bool forward;
  std::vector<uint32_t> faces;
};

class Grouping {
 public:
  Grouping(const Welded& welded, std::vector<Face>& faces) : welded_(welded), faces_(faces) {
    for (uint32_t f = 0; f < faces.size(); ++f)
      for (size_t k = 0; k < 3; ++k) {
        Face& face = faces[f];
        if (face.broken || face.flat || face.group[k] != kNone) continue;
        const auto number = static_cast<uint32_t>(groups.size());
        groups.push_back({welded(f, k), face.forward, {f}});
        face.group[k] = number;
        spread(number, f, k);
      }
  }
  std::vector<Group> groups;

 private:
  // Around the corner from face to face, first over the edge that leaves it, then over the one that comes.
  void spread(uint32_t number, uint32_t face, size_t corner) {
    std::vector<uint32_t> open{faces_[face].neighbor[(corner + 2) % 3], faces_[face].neighbor[corner]};
    while (!open.empty()) {
      const uint32_t f = open.back();
      open.pop_back();
      if (f == kNone) continue;
      Group& group = groups[number];
      size_t k = 0;
      while (k < 3 && welded_(f, k) != group.corner) ++k;
      if (k == 3) continue;
      Face& at = faces_[f];
      if (at.group[k] != kNone) continue;
      // what has no area lies whichever way the first group that meets it does
      if (at.flat && at.group == std::array<uint32_t, 3>{kNone, kNone, kNone}) at.forward = group.forward;
      if (at.forward != group.forward) continue;
      group.faces.push_back(f);
      at.group[k] = number;
      open.push_back(at.neighbor[(k + 2) % 3]);
      open.push_back(at.neighbor[k]);
    }
  }
  const Welded& welded_;
  std::vector<Face>& faces_;
};

// The mean of the faces' directions, each by its angle at the corner.
Vec3 meanAlong(const Group& group, std::span<const uint32_t> members, std::span<const Corners> triangles,
               const std::vector<Face>& faces, uint32_t number) {
  Vec3 sum = Vec3::Zero(), even = Vec3::Zero();
  for (const uint32_t f : members) {
    const Face& face = faces[f];
    if (face.flat) continue;
    size_t k = 0;
    while (face.group[k] != number) ++k;
    const Corners& t = triangles[f];
    const Vec3& n = triangles[group.corner / 3][group.corner % 3].normal;
    const Vec3& at = t[k].position;
    const Vec3 before = inPlane(t[(k + 2) % 3].position - at, n),
               after = inPlane(t[(k + 1) % 3].position - at, n);
    const float angle = std::acos(std::clamp(before.dot(after), -1.f, 1.f));
    sum += angle * inPlane(face.along, n);
    even += inPlane(face.along, n);
  }
  // (seen along the normal a sliver has no angle, but still a direction)
  return unitOr(isSome(sum) ? sum : even);
}

}  // namespace

std::vector<std::array<Tangent, 3>> tangents(std::span<const Corners> triangles) {
  const Welded welded(triangles);
  std::vector<Face> faces(triangles.size());
  parallel(faces.size(), [&](size_t f) { faces[f] = faceOf(triangles[f]); });
  joinFaces(welded, faces);
  const Grouping grouping(welded, faces);
  const Tangent nothing(1, 0, 0, -1);
  std::vector<std::array<Tangent, 3>> out(triangles.size(), {nothing, nothing, nothing});
  parallel(
      grouping.groups.size(),
      [&](size_t number) {
        const Group& group = grouping.groups[number];
        std::vector<uint32_t> members(group.faces);
        std::ranges::sort(members);
        const Vec3 along = meanAlong(group, members, triangles, faces, static_cast<uint32_t>(number));
        const Tangent value(along.x(), along.y(), along.z(), group.forward ? 1.f : -1.f);
        for (const uint32_t f : members)
          for (size_t k = 0; k < 3; ++k)
            if (faces[f].group[k] == number) out[f][k] = value;
      },
      256);
  // what has two corners in one place takes what the first sound face has there
  std::vector<uint32_t> sound(3 * triangles.size(), kNone);
  bool any = false;
  for (const Face& face : faces) any = any || face.broken;
  if (!any) return out;
  for (uint32_t c = 0; c < sound.size(); ++c) {
    const uint32_t at = welded(c / 3, c % 3);
    if (!faces[c / 3].broken && sound[at] == kNone) sound[at] = c;
  }
  for (uint32_t c = 0; c < sound.size(); ++c) {
    const uint32_t from = sound[welded(c / 3, c % 3)];
    if (faces[c / 3].broken && from != kNone) out[c / 3][c % 3] = out[from / 3][from % 3];
  }
  return out;
}

std::vector<std::array<Tangent, 3>> tangentsOf(const WornMesh& mesh) {
  std::vector<Corners> corners(mesh.triangles.size());
  parallel(corners.size(), [&](size_t t) {
    const bool laid = mesh.laidOut(t);
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t v = mesh.triangles[t][k];
      corners[t][k] = {mesh.positions[v], mesh.normals[v], laid ? mesh.uv[t][k] : Vec2(0, 0)};
    }
  });
  return tangents(corners);
}

}  // namespace juvenor
