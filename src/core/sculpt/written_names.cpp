#include "core/sculpt/written_names.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace juvenor {

std::vector<std::string> writtenNames(const Sculpt& sculpt) {
  std::vector<std::string> out;
  std::set<std::string> taken;
  for (std::string name : sculpt.parts) {
    std::ranges::replace_if(
        name, [](char c) { return static_cast<unsigned char>(c) < 0x20 || c == 0x7f; }, ' ');
    const size_t first = name.find_first_not_of(' '), last = name.find_last_not_of(' ');
    name = first == std::string::npos ? "Part" : name.substr(first, last - first + 1);
    std::string own = name;
    for (int n = 2; !taken.insert(own).second; ++n) own = fmt::format("{} {}", name, n);
    out.push_back(std::move(own));
  }
  return out;
}

}  // namespace juvenor
