#include "batch/script_maps.h"

#include <fmt/format.h>

#include "batch/uv_set.h"
#include "core/json_fields.h"
#include "core/textures/bring_maps.h"
#include "core/textures/picture_layers.h"
#include "core/textures/unwrap.h"

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
        "brings maps as \"colour\", \"gloss\", \"roughness\", \"metal\", \"glow\", \"height\", \"normal\" or "
        "\"mask\""};
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

Result<Document> unwrapStep(const json& step, const Document& d) {
  UnwrapSetting setting;
  std::string what;
  uint32_t tiles = 1;
  const Outcome ok = JsonFields(step)
                         .text("do", what)
                         .text("name", setting.name)
                         .whole("tiles", tiles, 100)
                         .number("padding", setting.padding, 0, 0.1f)
                         .done();
  if (!ok) return ok.error();
  setting.tiles = static_cast<int>(std::max(1u, tiles));
  return withUnwrapped(d, setting);
}

Result<Document> layersBack(const json& step, const Document& d) {
  std::string what, file, set;
  LayersToSend wish;
  uint32_t tile = 1001;
  const Outcome ok = JsonFields(step)
                         .text("do", what)
                         .text("file", file)
                         .whole("tile", tile, 9999)
                         .text("set", set)
                         .needs({"file"})
                         .done();
  if (!ok) return ok.error();
  const auto uvSet = setOf(*d.sculpt, set);
  if (!uvSet) return Error{"the sculpt " + uvSet.error().what};
  wish.uvSet = *uvSet;
  wish.tile = static_cast<int>(tile);
  auto back = takenBack(d, file, wish);
  if (!back) return back.error();
  return std::move(back->document);
}

const ScriptCommand kMapCommands[] = {{"bring maps", {"maps", "name", "set"}, bringMaps},
                                      {"unwrap", {"name", "tiles", "padding"}, unwrapStep},
                                      {"layers back", {"file", "tile", "set"}, layersBack}};

}  // namespace

std::span<const ScriptCommand> mapCommands() {
  return kMapCommands;
}

}  // namespace juvenor::batch
