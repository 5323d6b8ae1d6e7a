#include <algorithm>

#include "core/document/edits.h"
#include "core/layers/composite.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

// Every value moved `strength` of the way to the target of its sample; samples without a target stay, and
// what the guard protects, or the mask `through` hides, moves less or not at all.
template <int Planes, class TargetOf>
Field<Planes> moved(const Field<Planes>& before, const Document& document, float strength, TargetOf targetOf,
                    const ScalarField* through = nullptr) {
  const ScalarField* guard = document.guard ? &*document.guard : nullptr;
  return mapField(before, [&](size_t c, size_t begin, size_t end) {
    std::shared_ptr<Chunk<Planes>> chunk;
    for (size_t s = begin; s < end; ++s) {
      const std::array<uint16_t, Planes>* target = targetOf(s);
      if (!target) continue;
      if (!chunk) chunk = before.writable(c);
      const float way =
          strength * (guard ? from16(guard->at(s)[0]) : 1) * (through ? from16(through->at(s)[0]) : 1);
      for (size_t p = 0; p < Planes; ++p) {
        uint16_t& v = chunk->plane[p][s - begin];
        const float from = v;
        v = static_cast<uint16_t>(from + (static_cast<float>((*target)[p]) - from) * way + 0.5f);
      }
    }
    return chunk;
  });
}

std::array<uint16_t, 4> targetOf(const EncodedColor& color) {
  const Rgba16 c = opaque16(color);
  return {c.r, c.g, c.b, c.a};
}

// What a layer's masks show together.
Result<ScalarField> wholeMaskOf(const LayerPointer& layer, SurfaceMaps& maps) {
  const auto stack = prepared({layer}, maps, {}, {}, layer->id);
  if (!stack) return stack.error();
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  return wholeMask(stack->front(), maps.size());
}

}  // namespace

Result<Document> withFilled(const Document& document, uint32_t id, const EncodedColor& color, float strength,
                            uint32_t part) {
  const Outcome ok = paintable(document, id, false);
  if (!ok) return ok.error();
  const auto target = targetOf(color);
  const std::vector<uint32_t>& parts = document.surface->parts;
  return withPainted(
      document, id,
      moved<4>(*layerOf(document, id)->source->painted(), document, std::clamp(strength, 0.f, 1.f),
               [&](size_t s) { return part == kNone || parts[s] == part ? &target : nullptr; }));
}

Result<Document> withFilledThrough(const Document& document, uint32_t id, const EncodedColor& color,
                                   float strength, uint32_t through) {
  const Outcome ok = paintable(document, id, false);
  if (!ok) return ok.error();
  const LayerPointer masked = layerOf(document, through);
  if (!masked || (!masked->mask && masked->terms.empty()))
    return Error{"that layer has no mask to fill through"};
  const auto mask = wholeMaskOf(masked, *document.maps);
  if (!mask) return mask.error();
  const auto target = targetOf(color);
  return withPainted(document, id,
                     moved<4>(
                         *layerOf(document, id)->source->painted(), document, std::clamp(strength, 0.f, 1.f),
                         [&](size_t) { return &target; }, &*mask));
}

Result<Document> withPartsFilled(const Document& document, uint32_t id,
                                 const std::map<uint32_t, EncodedColor>& tones, float strength) {
  const Outcome ok = paintable(document, id, false);
  if (!ok) return ok.error();
  std::map<uint32_t, std::array<uint16_t, 4>> targets;
  for (const auto& [part, tone] : tones) targets[part] = targetOf(tone);
  return withPainted(
      document, id,
      moved<4>(*layerOf(document, id)->source->painted(), document, std::clamp(strength, 0.f, 1.f),
               [&](size_t s) -> const std::array<uint16_t, 4>* {
                 const auto found = targets.find(document.surface->parts[s]);
                 return found == targets.end() ? nullptr : &found->second;
               }));
}

Result<Document> withMaskFilled(const Document& document, uint32_t id, float value, float strength,
                                uint32_t part) {
  const std::array<uint16_t, 1> target{to16(value)};
  const std::vector<uint32_t>& parts = document.surface->parts;
  const auto targetOf = [&](size_t s) { return part == kNone || parts[s] == part ? &target : nullptr; };
  const float way = std::clamp(strength, 0.f, 1.f);
  if (id == kGuard) {
    // the guard does not keep itself from being changed
    Document unguarded = document;
    unguarded.guard.reset();
    return withMaskField(document, id,
                         moved<1>(document.guard.value_or(openMask(parts.size())), unguarded, way, targetOf));
  }
  const Outcome ok = paintable(document, id, true);
  if (!ok) return ok.error();
  return withMaskField(document, id, moved<1>(*layerOf(document, id)->mask, document, way, targetOf));
}

}  // namespace juvenor
