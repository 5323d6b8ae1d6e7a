#include "core/textures/bake_ground.h"

#include <cmath>

#include "core/document/whole_stack.h"
#include "core/layers/composite/composite.h"
#include "core/textures/tangents.h"

namespace juvenor {
namespace {

Outcome placeOnMesh(const Document& document, const WornBy& by, BakeGround& ground,
                    const Progress& progress) {
  auto worn = wornMesh(*by.mesh, by.uvSet, by.placement.value_or(document.placement), document, progress);
  if (!worn) return worn.error();
  ground.worn = std::move(*worn);
  auto rays = document.maps->rays(progress);
  if (!rays) return rays.error();
  ground.reach = by.reach.value_or(measuredReach(ground.worn, **rays));
  ground.places =
      placesOnMesh(ground.worn, OntoMesh(document, ground.worn, *rays, ground.reach), *document.surface);
  return Done{};
}

}  // namespace

MapInput BakeGround::input(NormalsFrom normals, bool greenUp) const {
  return {document, &stack, &skin, &worn, normals, greenUp};
}

Result<std::unique_ptr<BakeGround>> bakeGround(const Document& document, const WornBy& by, bool tangents,
                                               const Progress& progress) {
  auto out = std::make_unique<BakeGround>();
  out->document = &document;
  auto stack = wholeStackOf(document, progress);
  if (!stack) return stack.error();
  out->stack = std::move(*stack);
  out->skin = skinOf(out->stack, document.surface->size(), document.bare);
  if (by.mesh) {
    if (const Outcome ok = placeOnMesh(document, by, *out, progress); !ok) return ok.error();
  } else {
    auto layout = skinLayout(document, progress);
    if (!layout) return layout.error();
    out->worn = wornSculpt(document, by.uvSet);
    out->places = placesOnSculpt(out->worn, std::move(*layout), *document.surface);
  }
  if (tangents) out->worn.tangents = tangentsOf(out->worn);
  out->heightRange = document.placement.millimetres *
                     (highestOf(out->skin.get<Channel::Relief>(), document.reliefStep) + out->reach);
  if (!(out->heightRange > 0)) out->heightRange = 1;
  return out;
}

}  // namespace juvenor
