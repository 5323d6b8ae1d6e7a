// What the comb does to the guides of a layer: strokes, pins, and taking them away.
#include "core/document/edits.h"
#include "core/layers/guides.h"
#include "core/surface/search.h"

namespace juvenor {
namespace {

Result<Guides> guidesOf(const Document& document, uint32_t id) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !layer->source->guides()) return Error{"only layers of patterns can be combed"};
  return *layer->source->guides();
}

Result<Document> withDirection(const Document& document, uint32_t id, Guides guides) {
  return withSource(document, id, layerOf(document, id)->source->withGuides(std::move(guides)));
}

// On the other side of x = 0, y = 0 or z = 0, where skin lies there.
std::optional<Comb> mirroredComb(const Surface& surface, Comb comb, int axis) {
  const float reach = std::max(comb.width, 6 * surface.spacing);
  uint32_t part = kNone;
  for (Vec3& place : comb.places) {
    place[axis] = -place[axis];
    const auto there = nearestSample(surface, place, reach);
    if (!there) return std::nullopt;
    if (part == kNone) part = surface.parts[*there];
  }
  comb.part = part;
  return comb;
}

void addWithMirrors(const Surface& surface, const Comb& comb, const std::array<bool, 3>& mirror,
                    std::vector<Comb>& out) {
  const size_t first = out.size();
  out.push_back(comb);
  for (int axis = 0; axis < 3; ++axis) {
    if (!mirror[static_cast<size_t>(axis)]) continue;
    const size_t count = out.size();
    for (size_t i = first; i < count; ++i)
      if (auto other = mirroredComb(surface, out[i], axis)) out.push_back(std::move(*other));
  }
}

}  // namespace

Result<Document> withComb(const Document& document, uint32_t id, const Comb& comb,
                          const std::array<bool, 3>& mirror) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  if (comb.places.size() < 2) return Error{"a stroke of the comb needs two places at least"};
  addWithMirrors(*document.surface, comb, mirror, guides->direction.combs);
  return withDirection(document, id, std::move(*guides));
}

Result<Document> withPin(const Document& document, uint32_t id, const Vec3& place, uint32_t part, float width,
                         const std::array<bool, 3>& mirror, const Progress& progress) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  const auto sample = nearestSample(*document.surface, place, width + 4 * document.surface->spacing, part);
  if (!sample) return Error{"there is no skin to pin"};
  DirectionGuide untwisted = guides->direction;
  untwisted.turn = 0;
  const auto directions = directionsOf(*document.maps, untwisted, Symmetry::Direction, progress);
  if (!directions) return directions.error();
  const Vec3 half = 0.25f * width * (**directions)[*sample];
  addWithMirrors(*document.surface, {{place - half, place + half}, part, width, 1}, mirror,
                 guides->direction.combs);
  return withDirection(document, id, std::move(*guides));
}

Result<Document> withoutCombs(const Document& document, uint32_t id, std::span<const Vec3> places,
                              float reach) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  const auto touched = [&](const Comb& comb) {
    for (const Vec3& a : comb.places)
      for (const Vec3& b : places)
        if ((a - b).norm() <= reach + 0.5f * comb.width) return true;
    return false;
  };
  if (std::erase_if(guides->direction.combs, touched) == 0) return Error{"no stroke of the comb lies there"};
  return withDirection(document, id, std::move(*guides));
}

}  // namespace juvenor
