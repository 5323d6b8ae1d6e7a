// Parts that were made here, in place of those of the sculpt's file: groups of its polygons under names of
// their own. Each lies within one part of the file, so that what the file holds apart stays apart; points are
// joined as the file's parts say, and so their number and order do not depend on what is made here.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/sculpt/sculpt.h"

namespace juvenor {

/// Which part every polygon belongs to.
struct PartLabels {
  std::vector<uint32_t> ofPolygon;
  std::vector<uint32_t> own;  ///< for each part that one of the file it lies in, ascending

  bool operator==(const PartLabels&) const = default;
};

struct MadeParts {
  uint64_t fingerprint = 0;        ///< of the labels, by which a file finds them; 0: the file's own parts
  std::vector<std::string> names;  ///< of the parts
  std::shared_ptr<const PartLabels> labels;  ///< null while a file is still to give them
  /// What they stand in place of: the file's own names and parts of polygons.
  std::vector<std::string> ownNames;
  std::shared_ptr<const std::vector<uint32_t>> ownPart;

  bool any() const { return fingerprint != 0; }
  bool operator==(const MadeParts& o) const { return fingerprint == o.fingerprint && names == o.names; }
};

/// The file's own parts in place of those made here.
void putFileParts(Sculpt& sculpt, const MadeParts& made);

/// With their fingerprint. `imported`: the sculpt as its file gave it. The error says what does not fit it;
/// labels and names like the file's give none that are made.
Result<MadeParts> madeParts(const Sculpt& imported, PartLabels labels, std::vector<std::string> names);
/// Whether labels are sound and fit a sculpt as its file gave it.
Outcome checked(const PartLabels& labels, const Sculpt& imported);
/// Memory of their arrays.
size_t bytesOf(const PartLabels& labels);

/// More than an artist would look through: loose shells of a sculpt in crumbs are refused.
inline constexpr size_t kMostParts = 1000;

}  // namespace juvenor
