// What cameras and variants have in common: things with a number and a name, shown in a row.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <string>
#include <vector>

#include "core/result.h"

namespace juvenor {

template <class T>
const T* inRow(const std::vector<T>& row, uint32_t id) {
  const auto at = std::ranges::find(row, id, &T::id);
  return at == row.end() ? nullptr : &*at;
}

template <class T>
const T* inRow(const std::vector<T>& row, std::string_view name) {
  const auto at = std::ranges::find(row, name, &T::name);
  return at == row.end() ? nullptr : &*at;
}

/// A name that nothing else in the row has, but what has the number `self`; an empty one becomes `what` and a
/// number.
template <class T>
Result<std::string> freeName(const std::vector<T>& row, std::string name, std::string_view what,
                             uint32_t self = 0) {
  if (name.empty()) {
    size_t number = row.size() + 1;
    do name = fmt::format("{} {}", what, number++);
    while (inRow(row, name));
    return name;
  }
  const T* same = inRow(row, name);
  if (same && same->id != self) return Error{fmt::format("there is a {} “{}” already", what, name)};
  return name;
}

/// Moves one to a place counted without itself; false when it is not there.
template <class T>
bool moveInRow(std::vector<T>& row, uint32_t id, size_t place) {
  const auto at = std::ranges::find(row, id, &T::id);
  if (at == row.end()) return false;
  T moved = std::move(*at);
  row.erase(at);
  row.insert(row.begin() + static_cast<std::ptrdiff_t>(std::min(place, row.size())), std::move(moved));
  return true;
}

}  // namespace juvenor
