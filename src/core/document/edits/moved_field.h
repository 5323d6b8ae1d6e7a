// A field moved toward values: what fills, and bringing back, do.
#pragma once

#include <array>
#include <memory>

#include "core/document/document.h"
#include "core/surface/map_field.h"

namespace juvenor {

/// Every value moved `strength` of the way to the target of its sample; samples without a target stay, and
/// what the guard protects, or the mask `through` hides, moves less or not at all. `targetOf(sample)` gives
/// something like a pointer or an optional.
template <int Planes, class TargetOf>
Field<Planes> movedField(const Field<Planes>& before, const Document& document, float strength,
                         TargetOf targetOf, const ScalarField* through = nullptr) {
  const ScalarField* guard = document.guard ? &*document.guard : nullptr;
  return mapField(before, [&](size_t c, size_t begin, size_t end) {
    std::shared_ptr<Chunk<Planes>> chunk;
    for (size_t s = begin; s < end; ++s) {
      const auto target = targetOf(s);
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

}  // namespace juvenor
