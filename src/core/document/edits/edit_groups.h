// Edits of several layers at once, and of how they lie in groups and hang on one another (layers/nesting.h).
// A group stands for all that lies in it. The error says why one cannot be done, in words for the artist.
#pragma once

#include <span>

#include "core/document/edits/edits.h"

namespace juvenor {

using LayerIds = std::span<const uint32_t>;

/// Whether a layer or group, what lies in it, and the groups it lies in may be taken away: an error names
/// what is locked. `act`: "delete", for the artist.
Outcome unlocked(const Document& document, size_t place, std::string_view act);

/// Gathers layers in a new group where the topmost of them lies; they keep their order.
Result<Document> withGroup(const Document& document, LayerIds ids, std::string name);
/// What lies in the group lies where the group lay. An error when that would change the look: the group has a
/// mask or an opacity, or is put together by itself and more than one lies in it.
Result<Document> withoutGroup(const Document& document, uint32_t id);
/// Whether a layer shows only where the one below it covers.
Result<Document> withClipped(const Document& document, uint32_t id, bool clipped);
/// A mask taken along to other layers of the same surface.
struct CopiedMask {
  std::shared_ptr<const Surface> surface;
  std::optional<ScalarField> painted;
  MaskTerms terms;
  MaskSteps steps;
};
Result<CopiedMask> copiedMask(const Document& document, uint32_t id);
/// In place of the masks of those layers.
Result<Document> withCopiedMask(const Document& document, const CopiedMask& mask, LayerIds ids);
/// A layer's mask, painted and from maps with what is done to it, becomes that of another, in place of its
/// own.
Result<Document> withMovedMask(const Document& document, uint32_t from, uint32_t to);
/// Whether a layer shows only where another (or a group) covers, whatever that looks like from now on; 0:
/// everywhere.
Result<Document> withMaskFrom(const Document& document, uint32_t id, uint32_t from);
/// Whether what lies in a group is listed; no step of the history.
Result<Document> withFolded(const Document& document, uint32_t id, bool folded);

/// Where layers go: in a group (its stratum counts then) or in none, above so many layers and groups of those
/// that lie there.
struct StackPlace {
  Stratum stratum = Stratum::Pigment;
  uint32_t group = 0;
  size_t above = 0;
};
Result<Document> withLayersMoved(const Document& document, LayerIds ids, const StackPlace& place);
/// Locked ones stay, and say so.
Result<Document> withoutLayers(const Document& document, LayerIds ids);
/// Copies right above each, sharing all chunks.
Result<Document> withDuplicates(const Document& document, LayerIds ids);
Result<Document> withLayersChanged(const Document& document, LayerIds ids, const LayerChange& change);

/// Hides all but a layer (or group) with what lies in it, the groups around it and what those hang on.
Result<Document> withShownAlone(const Document& document, uint32_t id);
/// Shows and hides layers again as they were, by their ids; those that are not named stay.
Document withVisible(const Document& document, const std::map<uint32_t, bool>& visible);

// ---- merging (edit_merge.cpp)

/// The layer (or group) and what lies right below it there become one painted layer, as do several that lie
/// next to each other. It never changes the look: where one layer cannot look like two, the error says why
/// and what can be done.
Result<Document> withMergedDown(const Document& document, uint32_t id);
Result<Document> withMerged(const Document& document, LayerIds ids);
/// All that is seen as one painted layer in the flesh; hidden layers stay above it. Over bare skin of another
/// tone it looks the same too.
Result<Document> withMergedVisible(const Document& document, std::string name);

}  // namespace juvenor
