#include "core/document/made_uvs.h"

#include "core/document/word_hash.h"

namespace juvenor {

MadeUvs madeUvs(UvSet set) {
  MadeUvs out;
  WordHash hash;
  hash.add(set.coordinates);
  hash.add(set.corner);
  out.fingerprint = hash.value();
  out.name = set.name;
  out.set = std::make_shared<const UvSet>(std::move(set));
  return out;
}

uint64_t fingerprintOf(const Sculpt& sculpt) {
  WordHash out;
  out.add(sculpt.vertices);
  out.add(sculpt.polygonStart);
  out.add(sculpt.corners);
  out.add(sculpt.polygonPart);
  out.add(sculpt.normals);
  out.add(sculpt.colors);
  for (const UvSet& set : sculpt.uvSets) out.add(set.coordinates);
  for (const std::string& part : sculpt.parts) out.add(std::vector<char32_t>(part.begin(), part.end()));
  return out.value();
}

size_t bytesOf(const UvSet& set) {
  return set.coordinates.size() * sizeof(Vec2) + set.corner.size() * sizeof(uint32_t);
}

}  // namespace juvenor
