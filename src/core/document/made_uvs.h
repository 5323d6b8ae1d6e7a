// UV sets that were made here: they belong to the document, the file its sculpt came from stays as it is. A
// document's sculpt has them before those of its file.
#pragma once

#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/sculpt/sculpt.h"

namespace juvenor {

struct MadeUvs {
  uint64_t fingerprint = 0;  ///< of what it holds, by which a file finds it
  std::string name;
  std::shared_ptr<const UvSet> set;  ///< null while a file is still to give it

  bool operator==(const MadeUvs& o) const { return fingerprint == o.fingerprint && name == o.name; }
};

/// With its fingerprint.
MadeUvs madeUvs(UvSet set);
/// Memory of its arrays.
size_t bytesOf(const UvSet& set);
/// What a sculpt is known by in a file: of its places, its polygons and their parts; never 0.
uint64_t fingerprintOf(const Sculpt& sculpt);

}  // namespace juvenor
