// Versions of one skin in a document: which of its layers show, and how strongly, over the same strata.
// Proposals that lie side by side without files of their own.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace juvenor {

struct Variant {
  uint32_t id = 0;
  std::string name;
  struct Shown {
    uint32_t layer = 0;  ///< its id
    bool visible = true;
    float opacity = 1;
    bool operator==(const Shown&) const = default;
  };
  std::vector<Shown> layers;  ///< what is not among them, as one that came later, stays as it is

  bool operator==(const Variant&) const = default;
};

}  // namespace juvenor
