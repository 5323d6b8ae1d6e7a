// Where the second of a mirrored area lies in a document that has a mirror plane of its own, or a rest pose.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// The areas with their second anchors where the document's mirrors have them; in a document that mirrors in
/// x = 0 they need none.
ZoneSet seated(const Document& document, ZoneSet zones);
/// The same of what a source works around; the source itself where nothing changes.
SourcePointer seated(const Document& document, SourcePointer source);
/// The same of all layers: after the mirrors changed.
void seatZones(Document& document);

}  // namespace juvenor
