// Numbers in the text of a file, by fast_float (Lemire 2021).
#pragma once

#include <fast_float/fast_float.h>

namespace juvenor {

/// Reads a number at `from` into `out` and gives the place behind it, or null when none stands there. A plus
/// may stand before it. What is too small becomes 0, what is too large infinite, for the caller to refuse.
template <class T>
const char* readNumber(const char* from, const char* end, T& out) {
  if (from < end && *from == '+') ++from;
  const auto [next, ec] = fast_float::from_chars(from, end, out);
  return ec == std::errc::invalid_argument ? nullptr : next;
}

}  // namespace juvenor
