// What is done by hand to a pattern: strokes of the comb, pins, size pushed, relief soothed, scales touched.
#include <map>

#include "core/document/edits/edits.h"
#include "core/layers/sources/hair.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

Result<Guides> guidesOf(const Document& document, uint32_t id) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !layer->source->guides()) return Error{"only layers of patterns can be worked on like that"};
  return *layer->source->guides();
}

Result<Document> withGuidesOf(const Document& document, uint32_t id, Guides guides) {
  return withSource(document, id, layerOf(document, id)->source->withGuides(std::move(guides)));
}

void append(std::vector<SkinStroke> more, std::vector<SkinStroke>& strokes) {
  for (SkinStroke& stroke : more) strokes.push_back(std::move(stroke));
}

}  // namespace

Result<Document> withComb(const Document& document, uint32_t id, const Comb& comb,
                          const std::array<bool, 3>& mirror) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  if (comb.places.size() < 2) return Error{"a stroke of the comb needs two places at least"};
  append(withMirrors(*document.surface, comb, mirror, mirrorsOf(document)), guides->direction.combs);
  return withGuidesOf(document, id, std::move(*guides));
}

Result<Document> withHairEdge(const Document& document, uint32_t id, const SkinStroke& edge,
                              const std::array<bool, 3>& mirror) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !hairOf(*layer->source)) return Error{"only layers of hair stand along edges"};
  if (edge.places.size() < 2) return Error{"an edge needs two places at least"};
  Guides guides = *layer->source->guides();
  append(withMirrors(*document.surface, edge, mirror, mirrorsOf(document)), guides.edges);
  return withGuidesOf(document, id, std::move(guides));
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
  append(withMirrors(*document.surface, {{place - half, place + half}, part, width, 1}, mirror,
                     mirrorsOf(document)),
         guides->direction.combs);
  return withGuidesOf(document, id, std::move(*guides));
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
  return withGuidesOf(document, id, std::move(*guides));
}

Result<Document> withSizePushed(const Document& document, uint32_t id, const SkinStroke& stroke,
                                const std::array<bool, 3>& mirror) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  append(withMirrors(*document.surface, stroke, mirror, mirrorsOf(document)), guides->size.pushed);
  return withGuidesOf(document, id, std::move(*guides));
}

Result<Document> withSoothed(const Document& document, uint32_t id, const SkinStroke& stroke,
                             const std::array<bool, 3>& mirror) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  append(withMirrors(*document.surface, stroke, mirror, mirrorsOf(document)), guides->soothed);
  return withGuidesOf(document, id, std::move(*guides));
}

Result<Document> withPatternLaid(const Document& document, uint32_t id, const SkinStroke& stroke,
                                 const std::array<bool, 3>& mirror) {
  if (const auto guides = guidesOf(document, id); !guides) return guides.error();
  const bool lays = stroke.strength > 0;
  if (lays && !layerOf(document, id)->mask)
    return Error{"the pattern lies everywhere already; to begin with none, hide everything by its mask"};
  const auto with = layerOf(document, id)->mask ? Result<Document>(document) : withMask(document, id);
  if (!with) return with;
  ScalarField mask = *layerOf(*with, id)->mask;
  std::map<size_t, std::shared_ptr<ScalarChunk>> touched;
  for (const SkinStroke& one : withMirrors(*document.surface, stroke, mirror, mirrorsOf(document)))
    eachUnder(*document.surface, one, [&](uint32_t s, float weight) {
      auto& chunk = touched.try_emplace(s / kChunkSize).first->second;
      if (!chunk) chunk = mask.writable(s / kChunkSize);
      uint16_t& shown = chunk->plane[0][s % kChunkSize];
      const float goal = lays ? 1.f : 0.f, by = std::min(1.f, std::abs(one.strength) * weight);
      shown = to16(from16(shown) + by * (goal - from16(shown)));
    });
  for (auto& [index, chunk] : touched) mask.setChunk(index, std::move(chunk));
  return withMaskField(*with, id, std::move(mask));
}

Result<Document> withCellsTouched(const Document& document, uint32_t id, std::span<const CellTouch> touches,
                                  const std::array<bool, 3>& mirror) {
  auto guides = guidesOf(document, id);
  if (!guides) return guides.error();
  if (!scalesOf(*layerOf(document, id)->source)) return Error{"only scales can be touched one by one"};
  for (const CellTouch& touch : touches)
    for (const SkinStroke& there :
         withMirrors(*document.surface, {{touch.place}, touch.part, 0, 1}, mirror, mirrorsOf(document))) {
      CellTouch next = touch;
      next.place = there.places.front();
      next.part = there.part;
      guides->cells.push_back(next);
    }
  return withGuidesOf(document, id, std::move(*guides));
}

}  // namespace juvenor
