// What a library says of a file, in a line one can show: it may quote all of what it could not read, and
// break off in the middle of a character.
#pragma once

#include <string>

namespace juvenor {

/// How many bytes the character of UTF-8 at a place has; 0: there is none, or not all of it.
inline size_t characterAt(const std::string& words, size_t at) {
  const auto byte = [&](size_t i) { return static_cast<unsigned char>(words[i]); };
  const unsigned char first = byte(at);
  const size_t size = first < 0x80       ? 1
                      : first >> 5 == 6  ? 2
                      : first >> 4 == 14 ? 3
                      : first >> 3 == 30 ? 4
                                         : 0;
  if (at + size > words.size()) return 0;
  for (size_t i = 1; i < size; ++i)
    if (byte(at + i) >> 6 != 2) return 0;
  return size;
}

/// The first few hundred bytes in whole characters, line breaks as spaces, what is no character as "?".
inline std::string shortened(const std::string& words) {
  constexpr size_t kMost = 300;
  std::string out;
  for (size_t at = 0; at < words.size();) {
    if (out.size() >= kMost) return out + " …";
    const size_t size = characterAt(words, at);
    if (size == 0)
      out += '?';
    else if (words[at] == '\n' || words[at] == '\r')
      out += ' ';
    else
      out.append(words, at, size);
    at += size > 0 ? size : 1;
  }
  return out;
}

}  // namespace juvenor
