// Arrays as the bytes a document keeps them in: of each array all first bytes of its values, then all second
// ones, and so on, which packs better, since neighbours on the curve differ little in their high bytes.
#pragma once

#include <cstring>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

namespace juvenor {

/// Appends an array. `T` has no gaps between its members; little endian.
template <class T>
void keepArray(std::span<const T> values, std::string& out) {
  static_assert(std::is_trivially_copyable_v<T>);
  const auto* from = reinterpret_cast<const char*>(values.data());
  const size_t start = out.size();
  out.resize(start + values.size_bytes());
  for (size_t b = 0; b < sizeof(T); ++b) {
    char* to = out.data() + start + b * values.size();
    for (size_t i = 0; i < values.size(); ++i) to[i] = from[i * sizeof(T) + b];
  }
}

/// Takes an array of `count` values from the front of `bytes`; false when there are not so many.
template <class T>
bool takeArray(std::string_view& bytes, size_t count, std::vector<T>& out) {
  static_assert(std::is_trivially_copyable_v<T>);
  if (bytes.size() / sizeof(T) < count) return false;
  out.resize(count);
  auto* to = reinterpret_cast<char*>(out.data());
  for (size_t b = 0; b < sizeof(T); ++b) {
    const char* from = bytes.data() + b * count;
    for (size_t i = 0; i < count; ++i) to[i * sizeof(T) + b] = from[i];
  }
  bytes.remove_prefix(count * sizeof(T));
  return true;
}

}  // namespace juvenor
