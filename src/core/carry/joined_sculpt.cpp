#include "core/carry/joined_sculpt.h"

#include <algorithm>

namespace juvenor {
namespace {

// Takes polygons over from one sculpt after another.
class Joining {
 public:
  explicit Joining(Sculpt& out) : out_(out) { out_.polygonStart = {0}; }

  void take(const Sculpt& from, const std::set<uint32_t>& parts,
            const std::function<Vec3(const Vec3&)>& move) {
    const bool first = out_.parts.empty();
    std::vector<uint32_t> place(from.parts.size(), kNone);
    for (const uint32_t part : parts) {
      // what a sculpt calls alike stays two parts, unless it comes in beside others
      place[part] = first ? static_cast<uint32_t>(out_.parts.size()) : placeOfPart(from.parts[part]);
      if (first) out_.parts.push_back(from.parts[part]);
    }
    const std::vector<uint32_t> number = vertices(from, parts, move);
    std::vector<size_t> sets;
    for (const UvSet& set : from.uvSets) sets.push_back(placeOfSet(set));
    std::vector<uint32_t> shift;
    for (const size_t set : sets) shift.push_back(static_cast<uint32_t>(out_.uvSets[set].coordinates.size()));
    for (size_t i = 0; i < sets.size(); ++i)
      for (const Vec2& uv : from.uvSets[i].coordinates) out_.uvSets[sets[i]].coordinates.push_back(uv);
    for (size_t p = 0; p < from.polygonCount(); ++p) {
      if (!parts.contains(from.polygonPart[p])) continue;
      for (size_t c = from.polygonStart[p]; c < from.polygonStart[p + 1]; ++c) {
        out_.corners.push_back(number[from.corners[c]]);
        for (UvSet& set : out_.uvSets) set.corner.resize(out_.corners.size(), kNone);
        for (size_t i = 0; i < sets.size(); ++i)
          if (const uint32_t uv = from.uvSets[i].corner[c]; uv != kNone)
            out_.uvSets[sets[i]].corner.back() = uv + shift[i];
      }
      out_.polygonStart.push_back(static_cast<uint32_t>(out_.corners.size()));
      out_.polygonPart.push_back(place[from.polygonPart[p]]);
    }
  }

 private:
  std::vector<uint32_t> vertices(const Sculpt& from, const std::set<uint32_t>& parts,
                                 const std::function<Vec3(const Vec3&)>& move) {
    // loose ones belong to nobody: they stay with the first
    std::vector<char> used(from.vertices.size(), out_.vertices.empty() ? 1 : 0);
    if (out_.vertices.empty())
      for (const uint32_t v : from.corners) used[v] = 0;
    for (size_t p = 0; p < from.polygonCount(); ++p)
      if (parts.contains(from.polygonPart[p]))
        for (const uint32_t v : from.polygon(p)) used[v] = 1;
    std::vector<uint32_t> number(from.vertices.size(), kNone);
    const size_t before = out_.vertices.size();
    for (size_t v = 0; v < number.size(); ++v) {
      if (!used[v]) continue;
      number[v] = static_cast<uint32_t>(out_.vertices.size());
      out_.vertices.push_back(move ? move(from.vertices[v]) : from.vertices[v]);
    }
    const auto both = [&](auto& values, const auto& theirs, auto none) {
      if (theirs.empty() && values.empty()) return;
      values.resize(before, none);
      for (size_t v = 0; v < number.size(); ++v)
        if (used[v]) values.push_back(theirs.empty() ? none : theirs[v]);
    };
    both(out_.normals, move ? std::vector<Vec3>() : from.normals, Vec3(Vec3::Zero()));
    both(out_.colors, from.colors, Rgba16{51118, 51118, 51118, 65535});
    return number;
  }

  uint32_t placeOfPart(const std::string& name) {
    auto at = std::ranges::find(out_.parts, name);
    if (at == out_.parts.end()) {
      out_.parts.push_back(name);
      at = out_.parts.end() - 1;
    }
    return static_cast<uint32_t>(at - out_.parts.begin());
  }

  size_t placeOfSet(const UvSet& set) {
    auto at = std::ranges::find(out_.uvSets, set.name, &UvSet::name);
    if (at == out_.uvSets.end()) {
      out_.uvSets.push_back({set.name, {}, {}});
      at = out_.uvSets.end() - 1;
      at->corner.resize(out_.corners.size(), kNone);
    }
    return static_cast<size_t>(at - out_.uvSets.begin());
  }

  Sculpt& out_;
};

std::set<uint32_t> allBut(const Sculpt& sculpt, const std::set<uint32_t>& without) {
  std::set<uint32_t> out;
  for (uint32_t p = 0; p < sculpt.parts.size(); ++p)
    if (!without.contains(p)) out.insert(p);
  return out;
}

}  // namespace

Sculpt joinedSculpt(const Sculpt& base, const std::set<uint32_t>& without, const Sculpt& other,
                    const std::set<uint32_t>& taken, const std::function<Vec3(const Vec3&)>& move) {
  Sculpt out;
  out.name = base.name;
  out.offset = base.offset;
  Joining joining(out);
  joining.take(base, allBut(base, without), nullptr);
  joining.take(other, taken, move);
  return out;
}

Sculpt partsOf(const Sculpt& sculpt, const std::set<uint32_t>& parts) {
  Sculpt out;
  out.name = sculpt.name;
  out.offset = sculpt.offset;
  Joining(out).take(sculpt, parts, nullptr);
  return out;
}

}  // namespace juvenor
