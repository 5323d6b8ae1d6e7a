// Lists and numbers in options.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <string>
#include <vector>

#include "core/result.h"

namespace juvenor::batch {

/// What stands between commas.
inline std::vector<std::string> listed(const std::string& text) {
  std::vector<std::string> out;
  for (size_t at = 0; at <= text.size();) {
    const size_t end = std::min(text.find(',', at), text.size());
    if (end > at) out.push_back(text.substr(at, end - at));
    at = end + 1;
  }
  return out;
}

inline Result<uint32_t> wholeNumber(const std::string& text, const std::string& what) {
  uint32_t out = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), out);
  if (error != std::errc{} || end != text.data() + text.size())
    return Error{fmt::format("{}: '{}' is no whole number", what, text)};
  return out;
}

}  // namespace juvenor::batch
