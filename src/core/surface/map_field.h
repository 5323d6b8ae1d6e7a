// A field from another, chunk by chunk on all cores.
#pragma once

#include <algorithm>

#include "core/parallel.h"
#include "core/surface/field.h"

namespace juvenor {

/// `field` with other chunks: `chunkOf(chunk, begin, end)` gives the chunk that takes the place of number
/// `chunk`, which holds the samples `begin` to `end`, or null where it stays.
template <int Planes, class ChunkOf>
Field<Planes> mapField(Field<Planes> field, ChunkOf chunkOf) {
  field.makeRoom();
  parallelEach(field.chunkCount(), [&](size_t c) {
    const size_t begin = c * kChunkSize, end = std::min(field.size(), begin + kChunkSize);
    if (typename Field<Planes>::Pointer chunk = chunkOf(c, begin, end)) field.setChunk(c, std::move(chunk));
  });
  return field;
}

}  // namespace juvenor
