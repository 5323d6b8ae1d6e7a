#include "core/document/store/state_shown.h"

#include <algorithm>

#include "core/json_fields.h"

namespace juvenor {

using nlohmann::json;

namespace {

json variantState(const Variant& v) {
  json layers = json::array();
  for (const Variant::Shown& l : v.layers)
    layers.push_back({{"id", l.layer}, {"visible", l.visible}, {"opacity", l.opacity}});
  return {{"id", v.id}, {"name", v.name}, {"layers", layers}};
}

}  // namespace

void putShown(const Document& d, json& out) {
  for (const KeptCamera& c : d.cameras)
    out["cameras"].push_back({{"id", c.id}, {"name", c.name}, {"look", toJson(c.look)}});
  if (d.nextCamera > 1) out["next-camera"] = d.nextCamera;
  for (const Variant& v : d.variants) out["variants"].push_back(variantState(v));
  if (d.nextVariant > 1) out["next-variant"] = d.nextVariant;
}

Outcome readCameras(const json& cameras, Document& d) {
  for (const json& j : cameras) {
    KeptCamera c;
    const json* look = nullptr;
    const Outcome ok = JsonFields(j)
                           .whole("id", c.id)
                           .text("name", c.name)
                           .any("look", look)
                           .needs({"id", "name", "look"})
                           .done();
    if (!ok) return Error{"a camera " + ok.error().what};
    auto said = lookFrom(*look);
    if (!said) return Error{"a camera: " + said.error().what};
    c.look = std::move(*said);
    if (c.id >= d.nextCamera || std::ranges::find(d.cameras, c.id, &KeptCamera::id) != d.cameras.end())
      return Error{"two cameras have one number"};
    d.cameras.push_back(std::move(c));
  }
  return Done{};
}

Outcome readVariants(const json& variants, Document& d) {
  for (const json& j : variants) {
    Variant v;
    const json* layers = nullptr;
    Outcome ok = JsonFields(j)
                     .whole("id", v.id)
                     .text("name", v.name)
                     .list("layers", layers)
                     .needs({"id", "name", "layers"})
                     .done();
    if (!ok) return Error{"a variant " + ok.error().what};
    for (const json& l : *layers) {
      Variant::Shown shown;
      ok = JsonFields(l)
               .whole("id", shown.layer)
               .flag("visible", shown.visible)
               .number("opacity", shown.opacity, 0, 1)
               .needs({"id"})
               .done();
      if (!ok) return Error{"a layer of a variant " + ok.error().what};
      v.layers.push_back(shown);
    }
    if (v.id >= d.nextVariant || std::ranges::find(d.variants, v.id, &Variant::id) != d.variants.end())
      return Error{"two variants have one number"};
    d.variants.push_back(std::move(v));
  }
  return Done{};
}

}  // namespace juvenor
