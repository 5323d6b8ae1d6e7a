// Which rows the Strata list, where they lie, and where something lands that is dropped between them.
#pragma once

#include <QRect>
#include <QString>
#include <vector>

#include "core/document/edits/edit_groups.h"

namespace juvenor::app {

/// Left of the rows stands the name of the stratum.
inline constexpr int kStrataMargin = 24;
/// By how much what lies in a group stands in.
inline constexpr int kStandsIn = 10;

struct StrataRow {
  uint32_t layer = 0;
  QRect rect;
  int depth = 0;  ///< how many groups it lies in
};

struct StrataBand {
  Stratum stratum = Stratum::Flesh;
  QRect rect;
};

/// Rows from the top down.
struct StrataList {
  std::vector<StrataRow> rows;
  std::vector<StrataBand> bands;
  int height = 0;

  const StrataRow* at(const QPoint& position) const;
  const StrataRow* of(uint32_t layer) const;
};

/// How rows are listed.
struct StrataListing {
  int width = 0;
  bool dense = false;  ///< one line a row
  QString find = {};   ///< only rows whose name or kind has it; empty: all that are not folded away
};
int rowHeight(bool dense);
StrataList listed(const Document& document, const StrataListing& listing);

/// Where layers land that are let go at a place, and where that is shown.
struct StrataDrop {
  StackPlace place;
  QRect line;  ///< between rows; a whole row where they go into its group
};
StrataDrop dropAt(const Document& document, const StrataList& list, const std::vector<uint32_t>& dragged,
                  const QPoint& position);

}  // namespace juvenor::app
