#include "core/carry/part_back.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/carry/joined_sculpt.h"
#include "core/carry/match_parts.h"

namespace juvenor {
namespace {

std::set<uint32_t> allParts(const Sculpt& sculpt) {
  std::set<uint32_t> out;
  for (uint32_t p = 0; p < sculpt.parts.size(); ++p) out.insert(p);
  return out;
}

// The parts as they are called here, without UV sets, which would not fit.
std::shared_ptr<const Sculpt> baseOf(const Document& document) {
  const auto imported = importedSculpt(document);
  if (!document.parts.any()) return imported;
  auto out = std::make_shared<Sculpt>(*imported);
  out->parts = document.parts.names;
  out->polygonPart = document.parts.labels->ofPolygon;
  return out;
}

}  // namespace

Result<CarriedOver> withPartsBack(const Document& document, const Sculpt& changed, const std::string& as,
                                  const CarrySetting& setting, const Progress& progress) {
  const auto base = baseOf(document);
  Sculpt parts = changed;
  if (!as.empty()) {
    if (parts.parts.size() != 1)
      return Error{fmt::format("holds {} parts; only one can stand for “{}”", parts.parts.size(), as)};
    parts.parts = {as};
  }
  std::set<uint32_t> replaced;
  for (std::string& name : parts.parts)
    for (uint32_t p = 0; p < base->parts.size(); ++p)
      if (sameName(base->parts[p], name)) {
        replaced.insert(p);
        name = base->parts[p];
      }
  if (replaced.empty())
    return Error{fmt::format("has no part of the sculpt's: it has “{}”, the sculpt “{}”",
                             fmt::join(changed.parts, "”, “"), fmt::join(base->parts, "”, “"))};
  const Vec3 apart = (changed.offset - base->offset).cast<float>();
  const auto now = std::make_shared<const Sculpt>(
      joinedSculpt(*base, replaced, parts, allParts(parts), [&](const Vec3& p) { return Vec3(p + apart); }));
  CarrySetting within = setting;
  within.keepLost = false;
  return carriedOver(document, now, within, progress);
}

Result<CarriedOver> withoutParts(const Document& document, const std::set<uint32_t>& parts,
                                 const Progress& progress) {
  const auto base = baseOf(document);
  if (parts.empty() || *parts.rbegin() >= base->parts.size()) return Error{"there is no such part"};
  if (parts.size() >= base->parts.size()) return Error{"one part must stay"};
  CarrySetting setting;
  setting.keepLost = false;
  return carriedOver(document, std::make_shared<const Sculpt>(joinedSculpt(*base, parts, {}, {}, nullptr)),
                     setting, progress);
}

}  // namespace juvenor
