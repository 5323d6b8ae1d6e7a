#include "core/document/made_parts.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/document/word_hash.h"

namespace juvenor {

size_t bytesOf(const PartLabels& labels) {
  return (labels.ofPolygon.size() + labels.own.size()) * sizeof(uint32_t);
}

Outcome checked(const PartLabels& labels, const Sculpt& imported) {
  if (labels.ofPolygon.size() != imported.polygonCount())
    return Error{fmt::format("parts of {} polygons are made for a sculpt of {}", labels.ofPolygon.size(),
                             imported.polygonCount())};
  const auto& own = labels.own;
  bool sound = !own.empty() && own.front() == 0 && own.back() + 1 == imported.parts.size();
  for (size_t i = 1; sound && i < own.size(); ++i) sound = own[i] == own[i - 1] || own[i] == own[i - 1] + 1;
  if (!sound) return Error{"a part of the sculpt has none that stands for it"};
  for (size_t p = 0; p < labels.ofPolygon.size(); ++p)
    if (labels.ofPolygon[p] >= own.size() || own[labels.ofPolygon[p]] != imported.polygonPart[p])
      return Error{fmt::format("polygon {} lies in no such part", p + 1)};
  return Done{};
}

void putFileParts(Sculpt& sculpt, const MadeParts& made) {
  if (!made.any()) return;
  sculpt.parts = made.ownNames;
  sculpt.polygonPart = *made.ownPart;
}

Result<MadeParts> madeParts(const Sculpt& imported, PartLabels labels, std::vector<std::string> names) {
  if (const Outcome ok = checked(labels, imported); !ok) return ok.error();
  if (names.size() != labels.own.size()) return Error{"every part needs a name"};
  MadeParts out;
  if (labels.ofPolygon == imported.polygonPart && names == imported.parts) return out;
  WordHash hash;
  hash.add(labels.ofPolygon);
  hash.add(labels.own);
  out.fingerprint = hash.value();
  out.names = std::move(names);
  out.labels = std::make_shared<const PartLabels>(std::move(labels));
  return out;
}

}  // namespace juvenor
