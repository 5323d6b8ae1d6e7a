#include "core/document/store/packing.h"

#include <fmt/format.h>
#include <zstd.h>

#include <algorithm>
#include <cstring>

#include "core/json_fields.h"

namespace juvenor {

namespace {

// What a frame can grow by at most: a block of 128 KiB takes four bytes (RFC 8878).
constexpr size_t kMostGrowth = (size_t{128} << 10) / 4;
constexpr size_t kMostBytes = size_t{1} << 32;

}  // namespace

Result<std::string> packed(std::string_view bytes, int level) {
  std::string out(ZSTD_compressBound(bytes.size()), '\0');
  const size_t size = ZSTD_compress(out.data(), out.size(), bytes.data(), bytes.size(), level);
  if (ZSTD_isError(size)) return Error{std::string("an array cannot be packed: ") + ZSTD_getErrorName(size)};
  out.resize(size);
  return out;
}

Result<std::string> unpacked(std::string_view bytes, size_t most) {
  const unsigned long long size = ZSTD_getFrameContentSize(bytes.data(), bytes.size());
  // a length that was made up must not cost memory
  if (size == ZSTD_CONTENTSIZE_ERROR || size == ZSTD_CONTENTSIZE_UNKNOWN || size > most ||
      size / kMostGrowth > bytes.size())
    return Error{"a stored array is damaged"};
  std::string out(size, '\0');
  const size_t got = ZSTD_decompress(out.data(), out.size(), bytes.data(), bytes.size());
  if (ZSTD_isError(got) || got != size) return Error{"a stored array is damaged"};
  return out;
}

template <int P>
Outcome unpackChunk(std::string_view bytes, Chunk<P>& into) {
  const size_t got = ZSTD_decompress(into.plane.data(), sizeof(into.plane), bytes.data(), bytes.size());
  if (ZSTD_isError(got) || got != sizeof(into.plane)) return Error{"a stored chunk of colour is damaged"};
  return Done{};
}
template Outcome unpackChunk<1>(std::string_view, Chunk<1>&);
template Outcome unpackChunk<2>(std::string_view, Chunk<2>&);
template Outcome unpackChunk<4>(std::string_view, Chunk<4>&);

namespace {

template <class T>
std::string_view bytesOf(const std::vector<T>& values) {
  return {reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T)};
}

template <class T>
Outcome fetch(const std::function<std::string(std::string_view)>& read, std::string_view name,
              std::vector<T>& out) {
  const std::string stored = read(name);
  if (stored.empty()) return Done{};
  auto bytes = unpacked(stored, kMostBytes);
  if (!bytes) return Error{fmt::format("the array '{}' is damaged", name)};
  if (bytes->size() % sizeof(T) != 0) return Error{fmt::format("the array '{}' has an odd length", name)};
  out.resize(bytes->size() / sizeof(T));
  if (!out.empty()) std::memcpy(static_cast<void*>(out.data()), bytes->data(), bytes->size());
  return Done{};
}

}  // namespace

// How many places, the places, then which of them each corner has.
namespace {

// How many there are of the first, the first, and the second, whose number the reader knows.
template <class First>
Result<std::string> packedTwo(const std::vector<First>& first, const std::vector<uint32_t>& second) {
  const auto count = static_cast<uint64_t>(first.size());
  std::string bytes(reinterpret_cast<const char*>(&count), sizeof(count));
  bytes += bytesOf(first);
  bytes += bytesOf(second);
  return packed(bytes);
}

template <class First>
Outcome unpackTwo(std::string_view stored, size_t seconds, const Error& damaged, std::vector<First>& first,
                  std::vector<uint32_t>& second) {
  const auto bytes = unpacked(stored, kMostBytes);
  if (!bytes) return bytes.error();
  uint64_t count = 0;
  const size_t tail = seconds * sizeof(uint32_t), head = sizeof(count);
  if (bytes->size() < head + tail) return damaged;
  std::memcpy(&count, bytes->data(), head);
  if (count > kMostBytes / sizeof(First) || bytes->size() != head + count * sizeof(First) + tail)
    return damaged;
  first.resize(count);
  second.resize(seconds);
  if (count > 0) std::memcpy(static_cast<void*>(first.data()), bytes->data() + head, count * sizeof(First));
  if (seconds > 0) std::memcpy(second.data(), bytes->data() + bytes->size() - tail, tail);
  return Done{};
}

}  // namespace

Result<std::string> packedUvs(const UvSet& set) {
  return packedTwo(set.coordinates, set.corner);
}

Result<UvSet> unpackedUvs(std::string_view stored, size_t corners) {
  const Error damaged{"a UV set is damaged"};
  UvSet out;
  const Outcome ok = unpackTwo(stored, corners, damaged, out.coordinates, out.corner);
  if (!ok) return ok.error();
  for (const uint32_t c : out.corner)
    if (c != kNone && c >= out.coordinates.size()) return damaged;
  return out;
}

Result<std::string> packedLabels(const PartLabels& labels) {
  return packedTwo(labels.own, labels.ofPolygon);
}

Result<PartLabels> unpackedLabels(std::string_view stored, size_t polygons) {
  PartLabels out;
  const Outcome ok =
      unpackTwo(stored, polygons, {"the parts of polygons are damaged"}, out.own, out.ofPolygon);
  if (!ok) return ok.error();
  return out;
}

Result<std::string> packedPlaces(const std::vector<Vec3>& places) {
  return packed(bytesOf(places));
}

Result<std::vector<Vec3>> unpackedPlaces(std::string_view stored, size_t count) {
  const auto bytes = unpacked(stored, kMostBytes);
  if (!bytes) return bytes.error();
  if (bytes->size() != count * sizeof(Vec3)) return Error{"a rest pose is damaged"};
  std::vector<Vec3> out(count);
  if (count > 0) std::memcpy(static_cast<void*>(out.data()), bytes->data(), bytes->size());
  return out;
}

Outcome packSculpt(const Sculpt& s,
                   const std::function<Outcome(std::string_view, const std::string&)>& write) {
  nlohmann::json names = {{"name", s.name}, {"parts", s.parts}, {"uvs", nlohmann::json::array()}};
  for (const UvSet& uv : s.uvSets) names["uvs"].push_back(uv.name);
  if (!s.offset.isZero()) names["offset"] = {s.offset.x(), s.offset.y(), s.offset.z()};
  std::vector<std::pair<std::string, std::string_view>> arrays{
      {"vertices", bytesOf(s.vertices)}, {"polygon_start", bytesOf(s.polygonStart)},
      {"corners", bytesOf(s.corners)},   {"polygon_part", bytesOf(s.polygonPart)},
      {"colors", bytesOf(s.colors)},     {"normals", bytesOf(s.normals)}};
  for (size_t i = 0; i < s.uvSets.size(); ++i) {
    arrays.emplace_back(fmt::format("uv{}_coordinates", i), bytesOf(s.uvSets[i].coordinates));
    arrays.emplace_back(fmt::format("uv{}_corner", i), bytesOf(s.uvSets[i].corner));
  }
  const std::string text = textOf(names);
  arrays.emplace_back("names", text);
  for (const auto& [name, bytes] : arrays) {
    const auto array = packed(bytes);
    if (!array) return array.error();
    if (const Outcome ok = write(name, *array); !ok) return ok;
  }
  return Done{};
}

Result<Sculpt> unpackSculpt(const std::function<std::string(std::string_view)>& read,
                            const std::string& where) {
  Sculpt s;
  const auto text = unpacked(read("names"), size_t{1} << 26);
  if (!text) return Error{"holds no sculpt, or a damaged one", where};
  const auto names = parsedOrNull(*text);
  if (!names.is_object()) return Error{"the names of the sculpt are damaged", where};
  const nlohmann::json *parts = nullptr, *uvs = nullptr, *offset = nullptr;
  const Outcome named = JsonFields(names)
                            .text("name", s.name)
                            .list("parts", parts)
                            .list("uvs", uvs)
                            .list("offset", offset)
                            .needs({"name", "parts", "uvs"})
                            .done();
  if (!named) return Error{"the names of the sculpt are damaged: it " + named.error().what, where};
  const auto text8 = [](const nlohmann::json& j) { return j.is_string(); };
  if (!std::ranges::all_of(*parts, text8) || !std::ranges::all_of(*uvs, text8))
    return Error{"the names of the sculpt are damaged", where};
  if (offset) {
    if (!vectorFromJson(*offset)) return Error{"the place of the sculpt is damaged", where};
    for (int k = 0; k < 3; ++k) s.offset[k] = (*offset)[static_cast<size_t>(k)].get<double>();
  }
  s.parts = parts->get<std::vector<std::string>>();
  for (const auto& uv : *uvs) s.uvSets.push_back({uv.get<std::string>(), {}, {}});
  std::vector<Outcome> results{
      fetch(read, "vertices", s.vertices), fetch(read, "polygon_start", s.polygonStart),
      fetch(read, "corners", s.corners),   fetch(read, "polygon_part", s.polygonPart),
      fetch(read, "colors", s.colors),     fetch(read, "normals", s.normals)};
  for (size_t i = 0; i < s.uvSets.size(); ++i) {
    results.push_back(fetch(read, fmt::format("uv{}_coordinates", i), s.uvSets[i].coordinates));
    results.push_back(fetch(read, fmt::format("uv{}_corner", i), s.uvSets[i].corner));
  }
  for (const Outcome& r : results)
    if (!r) return Error{r.error().what, where};
  if (s.polygonStart.empty() || s.polygonStart.front() != 0 || s.polygonStart.back() != s.corners.size() ||
      !std::is_sorted(s.polygonStart.begin(), s.polygonStart.end()) ||
      s.polygonPart.size() != s.polygonCount())
    return Error{"the polygons of the sculpt are damaged", where};
  for (const uint32_t p : s.polygonPart)
    if (p >= s.parts.size()) return Error{"the parts of the sculpt are damaged", where};
  for (const UvSet& uv : s.uvSets)
    if (uv.corner.size() != s.corners.size()) return Error{"the UVs of the sculpt are damaged", where};
  const Outcome checked = finishSculpt(s, where);
  if (!checked) return checked.error();
  return s;
}

}  // namespace juvenor
