#include "support/made.h"

#include <fmt/format.h>
#include <meshoptimizer.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <numeric>
#include <unordered_map>

#include "core/sculpt/each_triangle.h"
#include "core/surface/build/search.h"

namespace juvenor::test {
namespace {

void addPolygon(Sculpt& s, std::initializer_list<uint32_t> corners, uint32_t part = 0) {
  if (s.polygonStart.empty()) s.polygonStart.push_back(0);
  s.corners.insert(s.corners.end(), corners);
  s.polygonStart.push_back(static_cast<uint32_t>(s.corners.size()));
  s.polygonPart.push_back(part);
}

}  // namespace

Sculpt plane(int cells, float size, const std::string& part) {
  Sculpt s;
  s.name = part;
  s.parts = {part};
  const auto n = static_cast<uint32_t>(cells + 1);
  for (uint32_t y = 0; y < n; ++y)
    for (uint32_t x = 0; x < n; ++x)
      s.vertices.emplace_back(size * (static_cast<float>(x) / static_cast<float>(cells) - 0.5f),
                              size * (static_cast<float>(y) / static_cast<float>(cells) - 0.5f), 0.f);
  for (uint32_t y = 0; y + 1 < n; ++y)
    for (uint32_t x = 0; x + 1 < n; ++x)
      addPolygon(s, {y * n + x, y * n + x + 1, (y + 1) * n + x + 1, (y + 1) * n + x});
  return s;
}

Sculpt sphere(int rings, float radius, const Vec3& center) {
  Sculpt s;
  s.name = "Sphere";
  s.parts = {"Sphere"};
  const auto around = static_cast<uint32_t>(2 * rings);
  // one octant's numbers serve all eight, so that the mirror image is exact
  const auto turn = [&](uint32_t i) {
    const uint32_t quarter = around / 4, q = i % quarter;
    const auto cosine = [&](uint32_t k) {
      return k == 0         ? 1.f
             : k == quarter ? 0.f
                            : std::cos(static_cast<float>(k) / static_cast<float>(around) * 2 *
                                       std::numbers::pi_v<float>);
    };
    const float c = cosine(q), d = cosine(quarter - q);
    switch (i / quarter % 4) {
      case 0:
        return Vec2(c, d);
      case 1:
        return Vec2(-d, c);
      case 2:
        return Vec2(-c, -d);
      default:
        return Vec2(d, -c);
    }
  };
  s.vertices.push_back(center + Vec3(0, radius, 0));
  for (int r = 1; r < rings; ++r) {
    const int upper = std::min(r, rings - r);
    const float a = std::numbers::pi_v<float> * static_cast<float>(upper) / static_cast<float>(rings);
    const float y = (2 * r == rings ? 0.f : std::cos(a)) * (r <= rings - r ? 1.f : -1.f), w = std::sin(a);
    for (uint32_t i = 0; i < around; ++i) {
      const Vec2 t = turn(i);
      s.vertices.push_back(center + radius * Vec3(w * t.x(), y, w * t.y()));
    }
  }
  s.vertices.push_back(center + Vec3(0, -radius, 0));
  const auto last = static_cast<uint32_t>(s.vertices.size() - 1);
  const auto at = [&](int ring, uint32_t i) {
    return 1 + static_cast<uint32_t>(ring - 1) * around + i % around;
  };
  for (uint32_t i = 0; i < around; ++i) {
    addPolygon(s, {0, at(1, i + 1), at(1, i)});
    for (int r = 1; r + 1 < rings; ++r)
      addPolygon(s, {at(r, i), at(r, i + 1), at(r + 1, i + 1), at(r + 1, i)});
    addPolygon(s, {last, at(rings - 1, i), at(rings - 1, i + 1)});
  }
  return s;
}

namespace {

// A sheet of quads over (u, v), each 0…1, closed across u, and across v when wanted.
Sculpt sheet(const std::string& name, uint32_t nu, uint32_t nv, bool closed,
             const std::function<Vec3(float, float)>& at) {
  Sculpt s;
  s.name = name;
  s.parts = {name};
  const uint32_t rows = closed ? nv : nv + 1;
  for (uint32_t v = 0; v < rows; ++v)
    for (uint32_t u = 0; u < nu; ++u)
      s.vertices.push_back(
          at(static_cast<float>(u) / static_cast<float>(nu), static_cast<float>(v) / static_cast<float>(nv)));
  for (uint32_t v = 0; v < nv; ++v)
    for (uint32_t u = 0; u < nu; ++u) {
      const uint32_t w = (v + 1) % rows, t = (u + 1) % nu;
      addPolygon(s, {v * nu + u, w * nu + u, w * nu + t, v * nu + t});
    }
  return s;
}

}  // namespace

Sculpt cylinder(int cells, float radius, float height) {
  const float around = 2 * std::numbers::pi_v<float>;
  const auto rows =
      static_cast<uint32_t>(std::lround(height / (around * radius) * static_cast<float>(cells)));
  return sheet("Cylinder", static_cast<uint32_t>(cells), std::max(1u, rows), false, [&](float u, float v) {
    return Vec3(radius * std::cos(around * u), height * (v - 0.5f), radius * std::sin(around * u));
  });
}

Sculpt torus(int cells, float ring, float tube) {
  const float around = 2 * std::numbers::pi_v<float>;
  const auto along = static_cast<uint32_t>(std::lround(ring / tube * static_cast<float>(cells)));
  return sheet("Torus", along, static_cast<uint32_t>(cells), true, [&](float u, float v) {
    const float r = ring + tube * std::cos(around * v);
    return Vec3(r * std::cos(around * u), tube * std::sin(around * v), r * std::sin(around * u));
  });
}

Sculpt box(int cells, const Vec3& size) {
  Sculpt out;
  for (int axis = 0; axis < 3; ++axis)
    for (const float side : {-0.5f, 0.5f}) {
      Sculpt face = plane(cells, 1);
      for (Vec3& v : face.vertices) {
        // x and y of the square become the two other axes; turned so that it looks outward
        const float a = side > 0 ? v.x() : -v.x(), b = v.y();
        v[axis] = side;
        v[(axis + 1) % 3] = a;
        v[(axis + 2) % 3] = b;
        v = v.cwiseProduct(size);
      }
      out = axis == 0 && side < 0 ? face : together(out, face);
    }
  // one part, so that the edges join
  out.parts = {"Box"};
  std::ranges::fill(out.polygonPart, 0u);
  return out;
}

Sculpt insideOut(const Sculpt& sculpt) {
  Sculpt out = sculpt;
  for (size_t p = 0; p < out.polygonCount(); ++p)
    for (std::vector<uint32_t>* of : {&out.corners, out.uvSets.empty() ? nullptr : &out.uvSets[0].corner})
      if (of) std::reverse(of->begin() + out.polygonStart[p], of->begin() + out.polygonStart[p + 1]);
  return out;
}

Sculpt together(const Sculpt& a, const Sculpt& b) {
  Sculpt s = a;
  const auto vertices = static_cast<uint32_t>(a.vertices.size()),
             corners = static_cast<uint32_t>(a.corners.size()), parts = static_cast<uint32_t>(a.parts.size());
  s.vertices.insert(s.vertices.end(), b.vertices.begin(), b.vertices.end());
  for (const uint32_t c : b.corners) s.corners.push_back(c + vertices);
  for (size_t i = 1; i < b.polygonStart.size(); ++i) s.polygonStart.push_back(b.polygonStart[i] + corners);
  for (const uint32_t p : b.polygonPart) s.polygonPart.push_back(p + parts);
  s.parts.insert(s.parts.end(), b.parts.begin(), b.parts.end());
  s.uvSets.resize(std::min(a.uvSets.size(), b.uvSets.size()));
  for (size_t u = 0; u < s.uvSets.size(); ++u) {
    UvSet& into = s.uvSets[u];
    const UvSet& from = b.uvSets[u];
    const auto first = static_cast<uint32_t>(into.coordinates.size());
    into.coordinates.insert(into.coordinates.end(), from.coordinates.begin(), from.coordinates.end());
    for (const uint32_t c : from.corner) into.corner.push_back(c == kNone ? kNone : c + first);
  }
  return s;
}

Sculpt oddities(uint32_t seed) {
  Sculpt s;
  s.name = "Oddities";
  s.parts = {"Lid", "Box"};
  const std::vector<Vec3> points{{0, 0, 0}, {2, 0, 0},      {2, 2, 0}, {0, 2, 0},
                                 {0, 0, 2}, {2, 0, 2},      {2, 2, 2}, {1, 1.2f, 2.f},
                                 {0, 2, 2}, {0.5f, 0, 2.f}, {2, 2, 2}, {9.25f, -1e-3f, 4}};
  std::vector<uint32_t> place(points.size());
  std::iota(place.begin(), place.end(), 0u);
  std::shuffle(place.begin(), place.end(), std::mt19937(seed));
  s.vertices.resize(points.size());
  for (size_t i = 0; i < points.size(); ++i) s.vertices[place[i]] = points[i];
  const auto polygon = [&](std::vector<uint32_t> corners, uint32_t part) {
    if (s.polygonStart.empty()) s.polygonStart.push_back(0);
    for (const uint32_t c : corners) s.corners.push_back(place[c]);
    s.polygonStart.push_back(static_cast<uint32_t>(s.corners.size()));
    s.polygonPart.push_back(part);
  };
  polygon({3, 2, 1, 0}, 1);
  polygon({4, 9, 5, 6, 7, 8}, 0);  // six corners and a dent
  polygon({0, 1, 5}, 1);
  polygon({0, 5, 9, 4}, 1);
  polygon({1, 2, 10, 5}, 1);
  polygon({2, 3, 8, 7, 6}, 1);
  polygon({3, 0, 4, 8}, 1);
  UvSet uv{"UV", {}, {}};
  for (size_t i = 0; i < s.corners.size(); ++i) {
    uv.coordinates.emplace_back(static_cast<float>(i) / 32.f, 1.f - static_cast<float>(i * i % 64) / 64.f);
    uv.corner.push_back(static_cast<uint32_t>(i));
  }
  s.uvSets.push_back(std::move(uv));
  std::mt19937 random(seed + 1);
  for (size_t i = 0; i < s.vertices.size(); ++i) {
    const auto channel = [&] { return static_cast<uint16_t>(random() % 256 * 257); };
    const uint16_t r = channel(), g = channel(), b = channel();
    s.colors.push_back({r, g, b, 65535});
  }
  return s;
}

Sculpt soup(const Sculpt& sculpt) {
  Sculpt s;
  s.name = sculpt.name;
  s.parts = sculpt.parts;
  std::vector<std::array<uint32_t, 3>> cut;
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    const auto polygon = sculpt.polygon(p);
    cut.clear();
    triangulate(sculpt.vertices, polygon, cut);
    for (const auto& t : cut) {
      const auto first = static_cast<uint32_t>(s.vertices.size());
      for (const uint32_t c : t) s.vertices.push_back(sculpt.vertices[polygon[c]]);
      addPolygon(s, {first, first + 1, first + 2}, sculpt.polygonPart[p]);
    }
  }
  return s;
}

HueZone areaAt(const Vec3& anchor, float reach) {
  HueZone out;
  out.anchor = anchor;
  out.reach = reach;
  out.mirrored = false;
  out.strength = 1;
  out.breakUp = 0;
  return out;
}

std::vector<DistanceSource> sourcesOn(const Surface& surface, std::span<const Vec3> places) {
  std::vector<DistanceSource> out;
  for (const Vec3& p : places) out.push_back({p, nearestSample(surface, p, 1).value()});
  return out;
}

std::shared_ptr<const Surface> surfaceOf(const Sculpt& sculpt) {
  return *buildSurface(sculpt);
}

Document documentOf(const Sculpt& sculpt) {
  const auto shared = std::make_shared<const Sculpt>(sculpt);
  return newDocument(shared, surfaceOf(*shared));
}

Folder::Folder() {
  std::random_device random;
  path_ =
      std::filesystem::temp_directory_path() / fmt::format("juvenor-test-{}-{:08x}", ::getpid(), random());
  std::filesystem::create_directories(path_);
}

Folder::~Folder() {
  std::error_code ec;
  std::filesystem::permissions(path_, std::filesystem::perms::owner_all, ec);
  std::filesystem::remove_all(path_, ec);
}

std::string difference(const Sculpt& a, const Sculpt& b, float tolerance) {
  if (a.vertices.size() != b.vertices.size())
    return fmt::format("{} vertices became {}", a.vertices.size(), b.vertices.size());
  for (size_t i = 0; i < a.vertices.size(); ++i)
    if (a.vertices[i] != b.vertices[i]) return fmt::format("vertex {} moved", i);
  if (a.polygonStart != b.polygonStart) return "polygons have other sizes";
  if (a.corners != b.corners) return "polygons have other corners";
  if (a.parts != b.parts)
    return fmt::format("parts {} became {}", fmt::join(a.parts, ","), fmt::join(b.parts, ","));
  if (a.polygonPart != b.polygonPart) return "polygons lie in other parts";
  if (a.uvSets.size() != b.uvSets.size()) return "another number of UV sets";
  for (size_t k = 0; k < a.uvSets.size(); ++k)
    for (size_t c = 0; c < a.corners.size(); ++c) {
      const auto at = [c](const UvSet& set) {
        return set.corner[c] == kNone ? Vec2(-9, -9) : set.coordinates[set.corner[c]];
      };
      if ((at(a.uvSets[k]) - at(b.uvSets[k])).norm() > tolerance)
        return fmt::format("UV of corner {} differs", c);
    }
  return {};
}

ChannelValues inEveryChannel(const EncodedColor& color, float gloss, float metal, float relief, float glow) {
  ChannelValues out = color;
  out[Channel::Gloss] = gloss;
  out[Channel::Metal] = metal;
  out[Channel::Relief] = relief;
  out[Channel::Glow] = glow;
  out[Channel::Wander] = 0.5f * gloss;
  out[Channel::Coat] = 1 - gloss;
  out[Channel::Fuzz] = metal;
  return out;
}

Sculpt lighter(const Sculpt& sculpt, size_t times) {
  Sculpt out;
  out.name = "light";
  out.parts = sculpt.parts;
  out.polygonStart = {0};
  // (triangles are told on all cores at once)
  std::vector<std::pair<uint32_t, Triangle>> all(triangleCount(sculpt));
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle& at) {
    all[t].first = sculpt.polygonPart[p];
    for (size_t k = 0; k < 3; ++k) all[t].second[k] = sculpt.corners[sculpt.polygonStart[p] + at[k]];
  });
  std::vector<std::vector<uint32_t>> corners(sculpt.parts.size());
  for (const auto& [part, t] : all) corners[part].insert(corners[part].end(), t.begin(), t.end());
  for (uint32_t part = 0; part < corners.size(); ++part) {
    std::vector<uint32_t> kept(corners[part].size());
    kept.resize(meshopt_simplify(kept.data(), corners[part].data(), kept.size(), sculpt.vertices[0].data(),
                                 sculpt.vertices.size(), sizeof(Vec3), corners[part].size() / times, 1, 0,
                                 nullptr));
    std::unordered_map<uint32_t, uint32_t> number;
    for (const uint32_t v : kept) {
      const auto [at, isNew] = number.emplace(v, static_cast<uint32_t>(out.vertices.size()));
      if (isNew) out.vertices.push_back(sculpt.vertices[v]);
      out.corners.push_back(at->second);
      if (out.corners.size() % 3 != 0) continue;
      out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
      out.polygonPart.push_back(part);
    }
  }
  return out;
}

}  // namespace juvenor::test
