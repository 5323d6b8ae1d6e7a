#include "core/carry/same_polygons.h"

#include <algorithm>
#include <map>
#include <string>

namespace juvenor {
namespace {

// The polygons of one part: how many corners each has, and its corners as numbers given when a vertex first
// comes up.
struct PartPolygons {
  std::vector<uint32_t> sizes, corners;
  std::vector<uint32_t> vertices;  ///< by those numbers
};

std::vector<PartPolygons> byParts(const Sculpt& sculpt) {
  std::vector<PartPolygons> out(sculpt.parts.size());
  // (a vertex two parts share has a number in each)
  std::vector<uint32_t> number(sculpt.vertices.size(), kNone);
  std::vector<std::vector<uint32_t>> polygons(sculpt.parts.size());
  for (uint32_t p = 0; p < sculpt.polygonCount(); ++p) polygons[sculpt.polygonPart[p]].push_back(p);
  for (size_t part = 0; part < out.size(); ++part) {
    PartPolygons& of = out[part];
    for (const uint32_t p : polygons[part]) {
      of.sizes.push_back(static_cast<uint32_t>(sculpt.polygon(p).size()));
      for (const uint32_t v : sculpt.polygon(p)) {
        if (number[v] == kNone) {
          number[v] = static_cast<uint32_t>(of.vertices.size());
          of.vertices.push_back(v);
        }
        of.corners.push_back(number[v]);
      }
    }
    for (const uint32_t v : of.vertices) number[v] = kNone;
  }
  return out;
}

// Whether two parts lie about where the other does.
bool liesAlike(const Sculpt& a, const PartPolygons& of, const Sculpt& b, const PartPolygons& other) {
  const auto boxOf = [](const Sculpt& sculpt, const PartPolygons& part) {
    Box box;
    for (const uint32_t v : part.vertices) box.add(sculpt.vertices[v]);
    return box;
  };
  const Box now = boxOf(a, of), before = boxOf(b, other);
  return (now.center() - before.center()).norm() < 0.5f * std::max(now.diagonal(), before.diagonal());
}

bool isSame(const PartPolygons& a, const PartPolygons& b) {
  return !a.sizes.empty() && a.sizes == b.sizes && a.corners == b.corners;
}

}  // namespace

SamePolygons samePolygons(const Sculpt& fresh, const Sculpt& old) {
  SamePolygons out;
  out.vertex.assign(fresh.vertices.size(), kNone);
  out.part.assign(fresh.parts.size(), kNone);
  if (fresh.vertices.size() == old.vertices.size() && fresh.polygonStart == old.polygonStart &&
      fresh.corners == old.corners && fresh.polygonPart == old.polygonPart) {
    for (uint32_t v = 0; v < out.vertex.size(); ++v) out.vertex[v] = v;
    for (uint32_t p = 0; p < out.part.size(); ++p) out.part[p] = p;
    out.all = true;
    return out;
  }
  const auto now = byParts(fresh), before = byParts(old);
  std::vector<char> taken(before.size(), 0);
  const auto take = [&](uint32_t part, uint32_t of) {
    out.part[part] = of;
    taken[of] = 1;
    for (size_t i = 0; i < now[part].vertices.size(); ++i)
      out.vertex[now[part].vertices[i]] = before[of].vertices[i];
  };
  // those of one name first: two eyes may have the same polygons, and so may a hat
  std::multimap<std::string, uint32_t> named;
  for (uint32_t p = 0; p < before.size(); ++p) named.emplace(old.parts[p], p);
  for (const bool byName : {true, false})
    for (uint32_t p = 0; p < now.size(); ++p) {
      if (out.part[p] != kNone) continue;
      if (byName) {
        const auto [from, to] = named.equal_range(fresh.parts[p]);
        for (auto at = from; at != to && out.part[p] == kNone; ++at)
          if (!taken[at->second] && isSame(now[p], before[at->second])) take(p, at->second);
      } else {
        for (uint32_t o = 0; o < before.size() && out.part[p] == kNone; ++o)
          if (!taken[o] && isSame(now[p], before[o]) && liesAlike(fresh, now[p], old, before[o])) take(p, o);
      }
    }
  out.all = std::ranges::none_of(out.vertex, [](uint32_t v) { return v == kNone; }) &&
            std::ranges::all_of(taken, [](char t) { return t != 0; });
  return out;
}

}  // namespace juvenor
