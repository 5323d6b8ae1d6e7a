// Small made-up sculpts the tests share, and what they have in common.
#pragma once

#include <filesystem>
#include <random>

#include "core/document/document.h"
#include "core/sculpt/formats.h"
#include "core/surface/distance/distance.h"
#include "core/surface/surface.h"

namespace juvenor::test {

/// A flat square of side `size` in the plane z = 0 facing +z, cells × cells quads, centred on the origin.
Sculpt plane(int cells, float size, const std::string& part = "Plane");
/// A sphere of quads (and triangles at the poles), symmetric in x, y and z. `rings` must be even.
Sculpt sphere(int rings, float radius, const Vec3& center = Vec3::Zero());
/// An open cylinder around y, and a torus in the plane y = 0: `cells` quads around the tube.
Sculpt cylinder(int cells, float radius, float height);
Sculpt torus(int cells, float ring, float tube);
/// A closed box around the origin, each side cells × cells quads.
Sculpt box(int cells, const Vec3& size);
/// The polygons of a sculpt turned inside out.
Sculpt insideOut(const Sculpt& sculpt);
/// Two sculpts as one with all parts.
Sculpt together(const Sculpt& a, const Sculpt& b);
/// A box whose sides are a quad, two triangles, and a hexagon with a dent, with UVs and colours; vertices
/// shuffled, one duplicate and one unreferenced.
Sculpt oddities(uint32_t seed);
/// Every triangle with three vertices of its own.
Sculpt soup(const Sculpt& sculpt);

/// An area around a place, on its side alone, as strong as it goes and with an even rim.
HueZone areaAt(const Vec3& anchor, float reach);
/// Places tied to their nearest samples (within 1), to measure distance from.
std::vector<DistanceSource> sourcesOn(const Surface& surface, std::span<const Vec3> places);
std::shared_ptr<const Surface> surfaceOf(const Sculpt& sculpt);
Document documentOf(const Sculpt& sculpt);

/// A folder that is there for one test and gone afterwards.
class Folder {
 public:
  Folder();
  ~Folder();
  std::filesystem::path operator/(std::string_view name) const { return path_ / name; }
  const std::filesystem::path& path() const { return path_; }

 private:
  std::filesystem::path path_;
};

/// Vertices, polygons, parts and UVs are the same to the bit (UVs: to `tolerance`). Empty, or what differs.
std::string difference(const Sculpt& a, const Sculpt& b, float tolerance = 0);

/// A value for every channel.
ChannelValues inEveryChannel(const EncodedColor& color, float gloss, float metal, float relief,
                             float glow = 0.25f);

/// Whether two fields hold the same values.
template <int Planes>
bool sameValues(const Field<Planes>& a, const Field<Planes>& b) {
  if (a.size() != b.size()) return false;
  for (size_t s = 0; s < a.size(); ++s)
    if (a.at(s) != b.at(s)) return false;
  return true;
}

/// The same of every channel.
inline bool sameValues(const ChannelFields& a, const ChannelFields& b) {
  bool same = true;
  eachChannel([&](auto c) { same = same && sameValues(a.get<c()>(), b.get<c()>()); });
  return same;
}

/// One of so many times fewer triangles, each part by itself.
Sculpt lighter(const Sculpt& sculpt, size_t times);

}  // namespace juvenor::test
