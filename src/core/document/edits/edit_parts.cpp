#include "core/document/edits/edit_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/document/edits/edits.h"
#include "core/document/edits/share_again.h"
#include "core/document/surface_state.h"
#include "core/layers/prepared_layer.h"
#include "core/layers/sources/moved_skin.h"
#include "core/sculpt/polygon_groups.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// For every part before those that hold its polygons now.
std::vector<std::set<uint32_t>> standFor(const Sculpt& before, const Sculpt& now) {
  std::vector<std::set<uint32_t>> out(before.parts.size());
  for (size_t p = 0; p < before.polygonCount(); ++p) out[before.polygonPart[p]].insert(now.polygonPart[p]);
  return out;
}

// Nothing moved; places find the part they lie on now.
MovedSkin inOtherParts(const std::vector<std::set<uint32_t>>& now, const Surface& surface) {
  MovedSkin out;
  out.parts = [&now](uint32_t part) {
    return part < now.size() ? std::vector<uint32_t>(now[part].begin(), now[part].end())
                             : std::vector<uint32_t>();
  };
  out.place = [&now, &surface](const Vec3& place, uint32_t part) {
    MovedPlace to{place, kNone};
    if (part >= now.size() || now[part].empty()) return to;
    to.part = *now[part].begin();
    float nearest = 16 * surface.spacing;
    if (now[part].size() > 1)
      for (const uint32_t candidate : now[part])
        if (const auto s = nearestSample(surface, place, nearest, candidate)) {
          const float distance = (surface.positions[*s] - place).norm();
          if (distance >= nearest) continue;
          nearest = distance;
          to.part = candidate;
        }
    return to;
  };
  return out;
}

Result<Document> prepare(Result<Document> made, const Progress& progress) {
  if (!made) return made;
  // what has grown on the skin looks at its parts
  const auto ready = prepared(made->layers, *made->maps, progress);
  if (!ready) return ready.error();
  return made;
}

std::string freeName(const std::string& name, const std::vector<std::string>& taken) {
  std::string out = name;
  for (int number = 2; std::ranges::find(taken, out) != taken.end(); ++number)
    out = fmt::format("{} {}", name, number);
  return out;
}

// Parts as they are, to be cut further.
struct Cut {
  PartLabels labels;
  std::vector<std::string> names;
};

Cut cutOf(const Document& document) {
  Cut out{{document.sculpt->polygonPart, {}}, document.sculpt->parts};
  if (document.parts.any()) {
    out.labels.own = document.parts.labels->own;
  } else {
    for (uint32_t p = 0; p < out.names.size(); ++p) out.labels.own.push_back(p);
  }
  return out;
}

// A new part right behind one that lies in the same part of the file.
uint32_t addPart(Cut& cut, uint32_t behind, const std::string& name) {
  const auto at = static_cast<std::ptrdiff_t>(behind) + 1;
  cut.names.insert(cut.names.begin() + at, freeName(name, cut.names));
  cut.labels.own.insert(cut.labels.own.begin() + at, cut.labels.own[behind]);
  for (uint32_t& part : cut.labels.ofPolygon)
    if (part > behind) ++part;
  return behind + 1;
}

Result<Document> withCut(const Document& document, Cut cut, const Progress& progress) {
  auto made = madeParts(*importedSculpt(document), std::move(cut.labels), std::move(cut.names));
  if (!made) return made.error();
  return prepare(withMadeParts(document, std::move(*made), progress), progress);
}

// Pieces of one part, by the group of each of its polygons.
Result<Document> withPieces(const Document& document, uint32_t part, const std::vector<uint32_t>& groupOf,
                            const char* what, const Progress& progress) {
  const Sculpt& sculpt = *document.sculpt;
  if (part >= sculpt.parts.size()) return Error{"there is no such part"};
  std::map<uint32_t, size_t> sizes;  // polygons of each group
  for (size_t p = 0; p < sculpt.polygonCount(); ++p)
    if (sculpt.polygonPart[p] == part) ++sizes[groupOf[p]];
  const std::string& name = sculpt.parts[part];
  if (sizes.size() < 2) return Error{fmt::format("“{}” has one {} only", name, what)};
  if (sizes.size() > kMostParts)
    return Error{
        fmt::format("“{}” has {} {}s; more than {} parts are no help", name, sizes.size(), what, kMostParts)};
  std::vector<std::pair<uint32_t, size_t>> order(sizes.begin(), sizes.end());
  std::ranges::stable_sort(order, [](const auto& a, const auto& b) { return a.second > b.second; });
  Cut cut = cutOf(document);
  std::map<uint32_t, uint32_t> placeOf;
  for (size_t i = 1; i < order.size(); ++i)
    placeOf[order[i].first] = addPart(cut, static_cast<uint32_t>(part + i - 1), name);
  for (size_t p = 0; p < sculpt.polygonCount(); ++p)
    if (sculpt.polygonPart[p] == part)
      if (const auto piece = placeOf.find(groupOf[p]); piece != placeOf.end())
        cut.labels.ofPolygon[p] = piece->second;
  return withCut(document, std::move(cut), progress);
}

}  // namespace

Result<Document> withMadeParts(const Document& document, MadeParts made, const Progress& progress) {
  Document out = document;
  const auto imported = importedSculpt(document);
  out.parts = std::move(made);
  setImported(out, imported);
  if (out.parts.fingerprint == document.parts.fingerprint) return out;  // (other names at most)
  SurfaceState state{document.refinements, document.placement, document.shape, out.parts.fingerprint};
  auto surface = surfaceAfter(*imported, state, out.parts.labels.get(), progress);
  if (!surface) return surface.error();
  setSurface(out, std::move(*surface));
  if (out.rest.any()) out.rest.skin = out.rest.skin->over(out.surface);
  const auto now = standFor(*document.sculpt, *out.sculpt);
  const MovedSkin skin = inOtherParts(now, *out.surface);
  std::map<SourcePointer, SourcePointer> sources;
  eachLayer(out, [&](LayerPointer& pointer) {
    Layer layer = *pointer;
    SourcePointer& source = sources[layer.source];
    if (!source) source = movedSource(*layer.source, skin);
    if (!source) source = layer.source;
    layer.source = source;
    pointer = std::make_shared<Layer>(std::move(layer));
  });
  shareAgain(out);
  out.hiddenParts.clear();
  for (uint32_t p = 0; p < out.sculpt->parts.size(); ++p) {
    const bool hidden = std::ranges::any_of(
        document.hiddenParts, [&](uint32_t was) { return was < now.size() && now[was].contains(p); });
    const bool shown = [&] {
      for (uint32_t was = 0; was < now.size(); ++was)
        if (now[was].contains(p) && !document.hiddenParts.contains(was)) return true;
      return false;
    }();
    if (hidden && !shown) out.hiddenParts.insert(p);
  }
  giveDoubt(out);
  return out;
}

Result<Document> withShellsApart(const Document& document, uint32_t part, const Progress& progress) {
  return withPieces(document, part, shellsOfPolygons(*document.sculpt, document.surface->sampleOfVertex),
                    "shell", progress);
}

Result<Document> withIslandsApart(const Document& document, uint32_t part, size_t uvSet,
                                  const Progress& progress) {
  if (uvSet >= document.sculpt->uvSets.size()) return Error{"there is no such UV set"};
  return withPieces(document, part, islandsOfPolygons(*document.sculpt, document.sculpt->uvSets[uvSet]),
                    "UV island", progress);
}

Result<Document> withPartWhere(const Document& document, const ScalarField& where, const std::string& name,
                               const Progress& progress) {
  const Sculpt& sculpt = *document.sculpt;
  if (where.size() != document.surface->size()) return Error{"it is said of a skin of other points"};
  if (name.empty()) return Error{"the part needs a name"};
  std::vector<char> taken(sculpt.polygonCount());
  std::vector<size_t> of(sculpt.parts.size(), 0), takenOf(sculpt.parts.size(), 0);
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) {
    size_t sum = 0;
    for (const uint32_t v : sculpt.polygon(p)) sum += where.at(document.surface->sampleOfVertex[v])[0];
    taken[p] = 2 * sum > 65535 * sculpt.polygon(p).size();
    ++of[sculpt.polygonPart[p]];
    takenOf[sculpt.polygonPart[p]] += static_cast<size_t>(taken[p]);
  }
  Cut cut = cutOf(document);
  uint32_t added = 0;
  for (uint32_t part = 0; part < sculpt.parts.size(); ++part) {
    if (takenOf[part] == 0 || takenOf[part] == of[part]) continue;
    const uint32_t piece = addPart(cut, part + added++, name);
    for (size_t p = 0; p < sculpt.polygonCount(); ++p)
      if (taken[p] && sculpt.polygonPart[p] == part) cut.labels.ofPolygon[p] = piece;
  }
  if (added == 0) {
    if (std::ranges::all_of(takenOf, [](size_t n) { return n == 0; }))
      return Error{"no polygon lies in it by more than half"};
    return Error{"it takes whole parts only, which are parts already"};
  }
  return withCut(document, std::move(cut), progress);
}

Result<ScalarField> hiddenByMask(const Document& document, uint32_t id) {
  const auto mask = maskFieldOf(document, id);
  if (!mask) return mask.error();
  return inverted(*mask);
}

Result<Document> withPartsJoined(const Document& document, uint32_t part, uint32_t other,
                                 const Progress& progress) {
  Cut cut = cutOf(document);
  if (part >= cut.names.size() || other >= cut.names.size() || part == other)
    return Error{"there are no such two parts"};
  if (cut.labels.own[part] != cut.labels.own[other])
    return Error{fmt::format("“{}” and “{}” are apart in the sculpt's file, and stay so", cut.names[part],
                             cut.names[other])};
  for (uint32_t& p : cut.labels.ofPolygon) {
    if (p == other) p = part;
    if (p > other) --p;
  }
  cut.names.erase(cut.names.begin() + other);
  cut.labels.own.erase(cut.labels.own.begin() + other);
  return withCut(document, std::move(cut), progress);
}

Result<Document> withPartRenamed(const Document& document, uint32_t part, const std::string& name) {
  Cut cut = cutOf(document);
  if (part >= cut.names.size()) return Error{"there is no such part"};
  if (name.empty()) return Error{"a part needs a name"};
  const auto there = std::ranges::find(cut.names, name);
  if (there != cut.names.end() && there != cut.names.begin() + part)
    return Error{fmt::format("there is a part “{}” already", name)};
  cut.names[part] = name;
  return withCut(document, std::move(cut), {});
}

Result<Document> withFileParts(const Document& document, const Progress& progress) {
  if (!document.parts.any()) return document;
  return prepare(withMadeParts(document, {}, progress), progress);
}

}  // namespace juvenor
