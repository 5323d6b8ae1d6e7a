// Bytes as they lie in the file: zstd-compressed, and the sculpt as a set of named arrays.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <string_view>

#include "core/document/made_parts.h"
#include "core/surface/field.h"

namespace juvenor {

Result<std::string> packed(std::string_view bytes, int level = 1);
/// Fails on damage, and on more than `most` bytes.
Result<std::string> unpacked(std::string_view bytes, size_t most);

/// Planes one after another, each 4,096 values of 16 bits little endian.
template <int P>
Result<std::string> packedChunk(const Chunk<P>& chunk) {
  return packed({reinterpret_cast<const char*>(chunk.plane.data()), sizeof(chunk.plane)});
}
template <int P>
Outcome unpackChunk(std::string_view bytes, Chunk<P>& into);

/// A UV set without its name, and back for a sculpt of so many polygon corners.
Result<std::string> packedUvs(const UvSet& set);
Result<UvSet> unpackedUvs(std::string_view bytes, size_t corners);

/// Which part every polygon belongs to, and back for a sculpt of so many polygons.
Result<std::string> packedLabels(const PartLabels& labels);
Result<PartLabels> unpackedLabels(std::string_view bytes, size_t polygons);

/// Places of so many vertices.
Result<std::string> packedPlaces(const std::vector<Vec3>& places);
Result<std::vector<Vec3>> unpackedPlaces(std::string_view bytes, size_t count);

/// Calls `write(name, packed array)` for everything a sculpt holds.
Outcome packSculpt(const Sculpt& sculpt,
                   const std::function<Outcome(std::string_view, const std::string&)>& write);
/// The sculpt from arrays that `read(name)` gives, empty when there is none of that name. All rules are
/// checked.
Result<Sculpt> unpackSculpt(const std::function<std::string(std::string_view)>& read,
                            const std::string& where);

}  // namespace juvenor
