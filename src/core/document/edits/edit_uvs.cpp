#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits/edits.h"

namespace juvenor {
namespace {

Document withMade(const Document& document, std::vector<MadeUvs> made) {
  Document out = document;
  out.uvs = std::move(made);
  setImported(out, importedSculpt(document));
  return out;
}

}  // namespace

Result<Document> withUvs(const Document& document, UvSet set) {
  if (set.corner.size() != document.sculpt->corners.size())
    return Error{"the UVs are those of another sculpt", set.name};
  const auto taken = [&](const std::string& name) {
    return std::ranges::find(document.sculpt->uvSets, name, &UvSet::name) != document.sculpt->uvSets.end();
  };
  const std::string name = set.name;
  for (int number = 2; taken(set.name); ++number) set.name = fmt::format("{} {}", name, number);
  std::vector<MadeUvs> made = document.uvs;
  made.insert(made.begin(), madeUvs(std::move(set)));
  return withMade(document, std::move(made));
}

Result<Document> withoutUvs(const Document& document, size_t set) {
  if (set >= document.uvs.size())
    return Error{"these UVs came with the sculpt and stay", document.sculpt->name};
  std::vector<MadeUvs> made = document.uvs;
  made.erase(made.begin() + static_cast<std::ptrdiff_t>(set));
  return withMade(document, std::move(made));
}

}  // namespace juvenor
