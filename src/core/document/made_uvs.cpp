#include "core/document/made_uvs.h"

#include <string_view>

namespace juvenor {
namespace {

constexpr uint64_t kFirst = 14695981039346656037ull;

// 64-bit FNV-1a over words of 32 bits (after Fowler, Noll, Vo 1991).
template <class T>
void addTo(uint64_t& hash, const std::vector<T>& values) {
  const auto* words = reinterpret_cast<const uint32_t*>(values.data());
  for (size_t i = 0; i < values.size() * sizeof(T) / sizeof(uint32_t); ++i) {
    hash ^= words[i];
    hash *= 1099511628211ull;
  }
}

}  // namespace

MadeUvs madeUvs(UvSet set) {
  MadeUvs out;
  out.fingerprint = kFirst;
  addTo(out.fingerprint, set.coordinates);
  addTo(out.fingerprint, set.corner);
  out.name = set.name;
  out.set = std::make_shared<const UvSet>(std::move(set));
  return out;
}

uint64_t fingerprintOf(const Sculpt& sculpt) {
  uint64_t out = kFirst;
  addTo(out, sculpt.vertices);
  addTo(out, sculpt.polygonStart);
  addTo(out, sculpt.corners);
  addTo(out, sculpt.polygonPart);
  addTo(out, sculpt.normals);
  addTo(out, sculpt.colors);
  for (const UvSet& set : sculpt.uvSets) addTo(out, set.coordinates);
  for (const std::string& part : sculpt.parts) addTo(out, std::vector<char32_t>(part.begin(), part.end()));
  return out ? out : 1;
}

size_t bytesOf(const UvSet& set) {
  return set.coordinates.size() * sizeof(Vec2) + set.corner.size() * sizeof(uint32_t);
}

std::shared_ptr<const Sculpt> sculptWith(std::shared_ptr<const Sculpt> imported,
                                         std::span<const MadeUvs> made) {
  if (made.empty()) return imported;
  auto out = std::make_shared<Sculpt>(*imported);
  std::vector<UvSet> sets;
  for (const MadeUvs& m : made) sets.push_back(*m.set);
  for (UvSet& set : out->uvSets) sets.push_back(std::move(set));
  out->uvSets = std::move(sets);
  return out;
}

std::shared_ptr<const Sculpt> importedSculpt(std::shared_ptr<const Sculpt> sculpt, size_t made) {
  if (made == 0) return sculpt;
  auto out = std::make_shared<Sculpt>(*sculpt);
  out->uvSets.erase(out->uvSets.begin(), out->uvSets.begin() + static_cast<std::ptrdiff_t>(made));
  return out;
}

}  // namespace juvenor
