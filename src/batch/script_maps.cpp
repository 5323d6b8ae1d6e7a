#include "batch/script_maps.h"

#include <fmt/format.h>

#include "batch/uv_set.h"
#include "core/json_fields.h"
#include "core/textures/bring_maps.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

constexpr float kMostHeight = 1e6f;  // mm

Result<BroughtMap> broughtIn(const json& said) {
  std::string as = "colour", file, green = "up";
  BroughtMap out;
  float range = 0;
  const Outcome ok = JsonFields(said)
                         .text("as", as)
                         .text("file", file)
                         .whole("plane", out.plane, 3)
                         .number("range", range, 0, kMostHeight)
                         .text("green", green)
                         .needs({"file"})
                         .done();
  if (!ok) return Error{"has a map that " + ok.error().what};
  const auto known = bringAsFromKey(as);
  if (!known)
    return Error{
        "brings maps as \"colour\", \"gloss\", \"roughness\", \"metal\", \"height\", \"normal\" or \"mask\""};
  if (green != "up" && green != "down") return Error{"has a map whose green is neither \"up\" nor \"down\""};
  out.as = *known;
  out.greenUp = green == "up";
  out.tiles = tilesBeside(file);
  out.heightRange = range > 0 ? range : heightRangeBeside(file).value_or(1.f);
  return out;
}

Result<Document> bringMaps(const json& step, const Document& d) {
  std::string name = "Texture maps", set;
  const json* list = nullptr;
  JsonFields fields(step);
  std::string what;
  const Outcome ok =
      fields.text("do", what).text("name", name).text("set", set).list("maps", list).needs({"maps"}).done();
  if (!ok) return ok.error();
  const auto uvSet = setOf(*d.sculpt, set);
  if (!uvSet) return Error{"the sculpt " + uvSet.error().what};
  std::vector<BroughtMap> maps;
  for (const json& said : *list) {
    auto map = broughtIn(said);
    if (!map) return map.error();
    maps.push_back(std::move(*map));
  }
  auto brought = withMaps(d, *uvSet, maps, name);
  if (!brought) return brought.error();
  return std::move(brought->document);
}

const ScriptCommand kMapCommands[] = {{"bring maps", {"maps", "name", "set"}, bringMaps}};

}  // namespace

std::span<const ScriptCommand> mapCommands() {
  return kMapCommands;
}

}  // namespace juvenor::batch
