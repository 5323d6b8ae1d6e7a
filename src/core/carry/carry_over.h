// All work carried over to a changed sculpt, as one step: painted layers, masks and the guard by the
// correspondence of the two skins; places (landmarks, anchors, strokes, touches, pins) by where their skin
// has gone; what is worked out is worked out anew on the new form. Nothing is carried in silence: what is
// doubtful, missing or left behind is told.
#pragma once

#include <map>

#include "core/carry/match_parts.h"
#include "core/document/document.h"

namespace juvenor {

struct CarrySetting {
  std::vector<CarryPin> pins;  ///< in the scenes of both, the new one standing as the old one does
  /// New parts that are paired by hand; the others by name and by where they lie.
  std::map<uint32_t, std::set<uint32_t>> parts;
  bool checkpoints = true;
  bool keepLost = true;  ///< parts the new sculpt has not stay, at its end, and hidden
  bool grow = true;      ///< live layers are worked out on the new form as well, as other edits do
  float reach = 0;       ///< scene units of the old sculpt within which skin is looked for; 0: as suits it
};

/// What came of it, in numbers and words.
struct CarryReport {
  size_t points = 0;                          ///< of the new surface
  float sure = 0, doubtful = 0, unknown = 0;  ///< parts of them, together 1; unknown: nothing was found
  bool samePolygons = false;                  ///< all by number, whatever moved
  bool lay = false;                           ///< it lay on the old one as it was
  Similarity motion;                          ///< else how it was moved to lie there
  float rest = 0;                             ///< scene units of the old sculpt: the mean distance
  struct Part {
    std::string name;
    std::vector<std::string> from;  ///< parts of the old sculpt; none: it is new
    bool samePolygons = false;
  };
  std::vector<Part> parts;
  std::vector<std::string> lost;  ///< parts that the new sculpt has not
  std::vector<std::string> left;  ///< what could not come along, a line each
};

struct CarriedOver {
  Document document;
  CarryReport report;
};

/// `fresh`: as its file gave it. The error says what was found when nothing of it fits; the document stays as
/// it is.
Result<CarriedOver> carriedOver(const Document& old, std::shared_ptr<const Sculpt> fresh,
                                const CarrySetting& setting = {}, const Progress& progress = {});

}  // namespace juvenor
