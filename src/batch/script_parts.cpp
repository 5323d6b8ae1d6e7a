#include "batch/script_parts.h"

#include <fmt/format.h>

#include <algorithm>

#include "batch/script_lookup.h"
#include "batch/uv_set.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edits.h"
#include "core/json_fields.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// What a layer's mask shows, or what is guarded.
Result<ScalarField> fieldOf(const json& step, const Document& d) {
  if (step["mask of"] == "guard") return hiddenByMask(d, kGuard);
  const auto id = layerFor(step, d, "mask of");
  if (!id) return id.error();
  return maskFieldOf(d, *id);
}

// The document with the new parts of it hidden: those that bear no name there was.
Document newOnesHidden(Document d, const std::vector<std::string>& before) {
  for (uint32_t p = 0; p < d.sculpt->parts.size(); ++p)
    if (std::ranges::find(before, d.sculpt->parts[p]) == before.end()) d.hiddenParts.insert(p);
  return d;
}

Result<Document> makeParts(const json& step, const Document& d) {
  std::string what, by, name, set;
  bool hide = false;
  const json *part = nullptr, *layer = nullptr;
  const Outcome ok = JsonFields(step)
                         .text("do", what)
                         .text("by", by)
                         .any("part", part)
                         .any("mask of", layer)
                         .text("name", name)
                         .text("set", set)
                         .flag("hide", hide)
                         .needs({"by"})
                         .done();
  if (!ok) return ok.error();
  Result<Document> out = Error{fmt::format("“{}” is no way to make parts: shells, islands, mask", by)};
  if (by == "shells" || by == "islands") {
    if (!part) return Error{"needs the part to take apart as \"part\""};
    const auto of = partNamed(*part, d);
    if (!of) return of.error();
    if (by == "shells") {
      out = withShellsApart(d, *of);
    } else {
      const auto uvSet = setOf(*d.sculpt, set);
      if (!uvSet) return Error{"the sculpt " + uvSet.error().what};
      out = withIslandsApart(d, *of, *uvSet);
    }
  } else if (by == "mask") {
    if (!layer) return Error{"needs a layer, or guard, as \"mask of\""};
    const auto field = fieldOf(step, d);
    if (!field) return field.error();
    out = withPartWhere(d, *field, name);
  }
  if (!out || !hide) return out;
  return newOnesHidden(std::move(*out), d.sculpt->parts);
}

Result<Document> namePart(const json& step, const Document& d) {
  std::string what, name;
  const json* part = nullptr;
  const Outcome ok =
      JsonFields(step).text("do", what).any("part", part).text("name", name).needs({"part", "name"}).done();
  if (!ok) return ok.error();
  const auto of = partNamed(*part, d);
  if (!of) return of.error();
  return withPartRenamed(d, *of, name);
}

Result<Document> joinParts(const json& step, const Document& d) {
  std::string what;
  const json *part = nullptr, *other = nullptr;
  const Outcome ok =
      JsonFields(step).text("do", what).any("part", part).any("other", other).needs({"part", "other"}).done();
  if (!ok) return ok.error();
  const auto of = partNamed(*part, d), with = partNamed(*other, d);
  if (!of) return of.error();
  if (!with) return with.error();
  return withPartsJoined(d, *of, *with);
}

Result<Document> fileParts(const json&, const Document& d) {
  return withFileParts(d);
}

const ScriptCommand kPartCommands[] = {
    {"make parts", {"by", "part", "mask of", "name", "set", "hide"}, makeParts},
    {"name part", {"part", "name"}, namePart},
    {"join parts", {"part", "other"}, joinParts},
    {"file parts", {}, fileParts}};

}  // namespace

std::span<const ScriptCommand> partCommands() {
  return kPartCommands;
}

}  // namespace juvenor::batch
