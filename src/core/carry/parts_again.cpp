#include "core/carry/parts_again.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/document/edits/edit_parts.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr float kLooksAlike = 0.2f;  // the cosine of an angle

// The old part each polygon of the new sculpt lies on; kNone: on none its own may come from.
std::vector<uint32_t> oldPartsOf(const Document& carried, const PartsBefore& before) {
  const Sculpt& sculpt = *carried.sculpt;
  const PartLabels& made = *before.old.parts.labels;
  const auto& was = before.old.sculpt;
  if (sculpt.polygonStart == was->polygonStart && sculpt.polygonPart == *before.old.parts.ownPart)
    return made.ofPolygon;
  std::vector<uint32_t> out(sculpt.polygonCount(), kNone);
  const Surface& surface = *carried.surface;
  std::vector<std::vector<char>> allowed;
  for (const std::set<uint32_t>& of : before.sources) {
    std::vector<char>& may = allowed.emplace_back(before.rays.surface().partCount, 0);
    for (const uint32_t part : of) may[part] = 1;
  }
  parallel(out.size(), [&](size_t p) {
    Vec3 middle = Vec3::Zero(), normal = Vec3::Zero();
    for (const uint32_t v : sculpt.polygon(p)) {
      middle += surface.positions[surface.sampleOfVertex[v]];
      normal += surface.normals[surface.sampleOfVertex[v]];
    }
    middle /= static_cast<float>(sculpt.polygon(p).size());
    const Vec3 looks = before.bend.normalToOld(middle, normalizedOr(normal, Vec3::UnitY()));
    const auto hit = before.rays.nearestAlike(before.bend.toOld(middle), before.reach,
                                              {looks, kLooksAlike, allowed[sculpt.polygonPart[p]]});
    if (hit) out[p] = before.old.surface->triangleParts[hit->triangle];
  });
  return out;
}

}  // namespace

Result<Document> withPartsAgain(const Document& carried, const PartsBefore& before,
                                const Progress& progress) {
  const Sculpt& sculpt = *carried.sculpt;
  const std::vector<uint32_t> oldPart = oldPartsOf(carried, before);
  // what of each new part lies on which old one, in their order; kNone comes last
  std::vector<std::map<uint32_t, uint32_t>> pieces(sculpt.parts.size());
  for (size_t p = 0; p < oldPart.size(); ++p) pieces[sculpt.polygonPart[p]].emplace(oldPart[p], 0);
  PartLabels labels;
  std::vector<std::string> names;
  std::set<std::string> hidden;
  for (uint32_t part = 0; part < sculpt.parts.size(); ++part) {
    const auto add = [&](uint32_t old) {
      std::string name = old == kNone ? sculpt.parts[part] : before.old.parts.names[old];
      const std::string first = name;
      for (int number = 2; std::ranges::find(names, name) != names.end(); ++number)
        name = fmt::format("{} {}", first, number);
      names.push_back(name);
      labels.own.push_back(part);
      if (old != kNone && before.old.hiddenParts.contains(old)) hidden.insert(name);
      return static_cast<uint32_t>(names.size() - 1);
    };
    if (pieces[part].empty()) add(kNone);
    // what lies on nothing goes to the first
    if (pieces[part].size() > 1) pieces[part].erase(kNone);
    for (auto& [old, place] : pieces[part]) place = add(old);
  }
  labels.ofPolygon.resize(oldPart.size());
  for (size_t p = 0; p < oldPart.size(); ++p) {
    const auto& of = pieces[sculpt.polygonPart[p]];
    const auto piece = of.find(oldPart[p]);
    labels.ofPolygon[p] = (piece == of.end() ? of.begin() : piece)->second;
  }
  auto made = madeParts(*importedSculpt(carried), std::move(labels), names);
  if (!made) return made.error();
  auto out = withMadeParts(carried, std::move(*made), progress);
  if (!out) return out;
  for (uint32_t p = 0; p < out->sculpt->parts.size(); ++p)
    if (hidden.contains(out->sculpt->parts[p])) out->hiddenParts.insert(p);
  return out;
}

}  // namespace juvenor
