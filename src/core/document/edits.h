// Every edit of a document that is not a stroke: functions from document to document. The error says why an
// edit cannot be done, in words for the artist.
#pragma once

#include "core/document/document.h"

namespace juvenor {

// ---- the stack (edit_stack.cpp)

/// An empty painted layer above the active one if that lies in the same stratum, else on top of the stratum.
Document withPaintedLayer(const Document& document, std::string name, Stratum stratum);
/// A fill layer, placed the same way.
Document withFillLayer(const Document& document, std::string name, Stratum stratum,
                       const EncodedColor& color);
Result<Document> withoutLayer(const Document& document, uint32_t id);
/// A copy right above, sharing all chunks.
Result<Document> withDuplicate(const Document& document, uint32_t id);
/// Moves a layer to a stratum, `above` layers of which then lie below it.
Result<Document> withLayerMoved(const Document& document, uint32_t id, Stratum stratum, size_t above);
/// The layer and the visible one right below become one painted layer that looks the same over what is under
/// it when the lower one is Normal at full opacity.
Result<Document> withMergedDown(const Document& document, uint32_t id);

// ---- one layer (edit_layer.cpp)

/// Any of a layer's plain properties; what is not given stays.
struct LayerChange {
  std::optional<std::string> name;
  std::optional<BlendMode> blend;
  std::optional<float> opacity;
  std::optional<bool> visible;
  std::optional<bool> locked;
  std::optional<EncodedColor> fill;  ///< only for fill layers
};
Result<Document> withLayerChanged(const Document& document, uint32_t id, const LayerChange& change);
Result<Document> withMask(const Document& document, uint32_t id);
Result<Document> withoutMask(const Document& document, uint32_t id);
Result<Document> withInvertedMask(const Document& document, uint32_t id);
/// Puts another field in place of a painted layer's colour or of a layer's mask.
Document withPainted(const Document& document, uint32_t id, ColorField field);
Document withMaskField(const Document& document, uint32_t id, ScalarField field);

// ---- fill (edit_fill.cpp)

/// Moves the colours of a painted layer toward `color` by `strength` (0…1) of the way; 0.26 moves 26 %.
/// `part` kNone fills all parts.
Result<Document> withFilled(const Document& document, uint32_t id, const EncodedColor& color, float strength,
                            uint32_t part = kNone);
/// Moves a mask toward `value` (0 hides, 1 shows) the same way.
Result<Document> withMaskFilled(const Document& document, uint32_t id, float value, float strength,
                                uint32_t part = kNone);

// ---- the surface (edit_surface.cpp)

/// One regular split (spacing 0) or cuts down to a spacing; every layer and mask is carried over.
Result<Document> withRefinement(const Document& document, Refinement refinement,
                                const Progress& progress = {});
/// The surface of a sculpt after a list of refinements: what opening a document does.
Result<std::shared_ptr<const Surface>> surfaceAfter(const Sculpt& sculpt,
                                                    const std::vector<Refinement>& refinements,
                                                    const Progress& progress = {});

/// Whether the pen may work on this layer (its colour, or its mask); the error is what the window says.
Outcome paintable(const Document& document, uint32_t id, bool onMask);

}  // namespace juvenor
