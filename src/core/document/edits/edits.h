// Every edit of a document that is not a stroke: functions from document to document. The error says why an
// edit cannot be done, in words for the artist.
#pragma once

#include <map>

#include "core/document/document.h"

namespace juvenor {

struct Adjust;
struct CellTouch;
struct SkinStroke;

// ---- the stack (edit_stack.cpp)

/// An empty painted layer: in the active group, or above the active layer and what hangs on it, if that lies
/// in the same stratum, else on top of the stratum.
Document withPaintedLayer(const Document& document, std::string name, Stratum stratum);
/// A fill layer, placed the same way.
Document withFillLayer(const Document& document, std::string name, Stratum stratum,
                       const EncodedColor& color);
/// A layer of any kind of source, placed the same way.
Document withSourceLayer(const Document& document, std::string name, Stratum stratum, SourcePointer source);
/// Of one layer what edit_groups.h says of several.
Result<Document> withoutLayer(const Document& document, uint32_t id);
Result<Document> withDuplicate(const Document& document, uint32_t id);
/// Out of all groups, to a stratum; `above` of the layers and groups there then lie below it.
Result<Document> withLayerMoved(const Document& document, uint32_t id, Stratum stratum, size_t above);

// ---- one layer (edit_layer.cpp)

/// Any of a layer's plain properties; what is not given stays.
struct LayerChange {
  std::optional<std::string> name;
  std::optional<BlendMode> blend;
  std::optional<float> opacity;
  std::optional<bool> visible;
  std::optional<bool> locked;
  std::optional<bool> maskOff;
  std::optional<bool> keepsCover;
  std::optional<bool> passes;           ///< only for groups: whether they pass through
  std::optional<EncodedColor> fill;     ///< only for fill layers
  std::optional<ChannelValues> values;  ///< the same of all channels
  std::array<std::optional<float>, kChannelCount> strength;
  std::array<std::optional<ChannelMode>, kChannelCount> mode;  ///< an error where it means nothing
};
Result<Document> withLayerChanged(const Document& document, uint32_t id, const LayerChange& change);
/// Puts other fields in place of a painted layer's.
Result<Document> withPainted(const Document& document, uint32_t id, ChannelFields fields);
/// Another colour; the other channels stay.
Result<Document> withPainted(const Document& document, uint32_t id, ColorField color);
/// Another source of the same kind: zones or a ramp that were changed.
Result<Document> withSource(const Document& document, uint32_t id, SourcePointer source);
/// The mask from surface maps under the painted one; an empty terms takes it away.
Result<Document> withMaskTerms(const Document& document, uint32_t id, MaskTerms terms,
                               const Progress& progress = {});

/// What is done to the whole mask of a layer, live; empty: nothing. It is worked out when it is looked at.
Result<Document> withMaskSteps(const Document& document, uint32_t id, MaskSteps steps);

// ---- painted masks (edit_mask.cpp): of a layer, or with `id` kGuard the guard of the whole document, where
// 0 protects as on a layer it hides

inline constexpr uint32_t kGuard = 0;
Result<Document> withMask(const Document& document, uint32_t id);
Result<Document> withoutMask(const Document& document, uint32_t id);
/// The field of a mask that is there; the error says how to get one.
Result<ScalarField> maskFieldOf(const Document& document, uint32_t id);
/// Shown where it hides.
ScalarField inverted(const ScalarField& mask);
/// Puts another field in place of a mask, or gives the layer one; where it was never written it may read as
/// anything.
Result<Document> withMaskField(const Document& document, uint32_t id, ScalarField field);
/// Hides (protects) what lies inside an outline, 65535 wholly, and nothing more where it hides already; or
/// shows it (frees it) again (lasso_mask.cpp).
Result<Document> withLassoOnMask(const Document& document, uint32_t id, const ScalarField& inside,
                                 bool takesAway);
Result<Document> withInvertedMask(const Document& document, uint32_t id);
/// Melted along the skin, as melt() does it by this deviation in scene units.
Result<Document> withMeltedMask(const Document& document, uint32_t id, float deviation);
/// What shows grows by a way along the skin (scene units), or shrinks when it is below 0.
Result<Document> withGrownMask(const Document& document, uint32_t id, float way);
/// Shows these parts and hides the others.
Result<Document> withMaskFromParts(const Document& document, uint32_t id, const std::set<uint32_t>& parts);
/// Shows where the composite is within `tolerance` (ΔE2000) of one of the colours, fading over `fade` beyond
/// it.
Result<Document> withMaskFromColors(const Document& document, uint32_t id,
                                    std::span<const EncodedColor> colors, float tolerance, float fade);
/// Shows where the layer (for the guard: the composite) is as bright (CIE L*, 0…1) as the term's low to high
/// say; its map means nothing here.
Result<Document> withMaskFromBrightness(const Document& document, uint32_t id, const MaskTerm& term);
/// What a terms gives, laid down as a painted mask.
Result<Document> withMaskFromMaps(const Document& document, uint32_t id, const MaskTerms& terms,
                                  const Progress& progress = {});

/// Shows what the areas of another layer reach, or one of them, as strongly as each fades; laid down as a
/// painted mask.
Result<Document> withMaskFromAreas(const Document& document, uint32_t id, uint32_t from,
                                   std::optional<size_t> only = {});

// ---- landmarks and hue zones (edit_zones.cpp)

/// Places or moves a landmark; zones that go with it move along.
Result<Document> withLandmark(const Document& document, std::string_view key, const Vec3& position);
/// The height of the head in scene units: crown to chin, else what any two placed landmarks tell by their
/// places on the guide, else by the surface's own size.
float headHeightOf(const Document& document);
/// The usual zones of a face for the landmarks that are placed, sized by their distances. Common practice:
/// brow and skull yellow, cheeks, nose tip and ears red, mouth, chin and jaw blue-grey, lids orange to
/// purple.
Result<ZoneSet> usualZones(const Document& document);
/// The usual zones as a new layer in the flesh.
Result<Document> withUsualZones(const Document& document);
/// Other areas in a layer whose kind has them.
Result<Document> withZones(const Document& document, uint32_t layer, ZoneSet zones);

// ---- what patterns follow (edit_guides.cpp)

/// One stroke of the comb more over a layer of a pattern, and its mirror images across x, y, z = 0 where skin
/// lies there.
Result<Document> withComb(const Document& document, uint32_t id, const SkinStroke& comb,
                          const std::array<bool, 3>& mirror = {});
/// One edge more that a layer of hair stands along, and its mirror images.
Result<Document> withHairEdge(const Document& document, uint32_t id, const SkinStroke& edge,
                              const std::array<bool, 3>& mirror = {});
/// Holds the direction a pattern has at a place as it is, whatever is combed around it; `width` of skin.
Result<Document> withPin(const Document& document, uint32_t id, const Vec3& place, uint32_t part, float width,
                         const std::array<bool, 3>& mirror = {}, const Progress& progress = {});
/// Takes away strokes and pins that come within `reach` of one of the places.
Result<Document> withoutCombs(const Document& document, uint32_t id, std::span<const Vec3> places,
                              float reach);

/// A stroke that pushes the size of a pattern up, or with a negative strength down, and its mirror images.
Result<Document> withSizePushed(const Document& document, uint32_t id, const SkinStroke& stroke,
                                const std::array<bool, 3>& mirror = {});
/// A stroke that makes the relief of a pattern weaker, or with a negative strength gives it back.
Result<Document> withSoothed(const Document& document, uint32_t id, const SkinStroke& stroke,
                             const std::array<bool, 3>& mirror = {});
/// A stroke that lays a pattern where its layer's painted mask hides it, or with a negative strength thins it
/// out there, and its mirror images. An error where there is nothing to lay: no mask hides any of it.
Result<Document> withPatternLaid(const Document& document, uint32_t id, const SkinStroke& stroke,
                                 const std::array<bool, 3>& mirror = {});
/// Touches single scales, and those across.
Result<Document> withCellsTouched(const Document& document, uint32_t id, std::span<const CellTouch> touches,
                                  const std::array<bool, 3>& mirror = {});
/// Fine skin with the usual regions of a face, by the landmarks that are placed (usual_where.cpp).
Result<Document> withUsualRegions(const Document& document, uint32_t id);

/// The layer's mask with the usual places left out: lids and lips by their landmarks, and parts whose names
/// say that they are no skin (usual_where.cpp). An error when none of either is known.
Result<Document> withUsualExceptions(const Document& document, uint32_t id);
/// The parts whose names say nothing else than skin: no eyes, teeth, tongues, nails, hair.
std::set<uint32_t> skinParts(const Document& document);

// ---- adjustments laid down (edit_adjust.cpp)

/// Adjusts the colours of a painted layer once; alpha stays, the guard is kept. `through`: by as much as that
/// layer's mask, opacity and strength of colour say.
Result<Document> withAdjusted(const Document& document, uint32_t id, const Adjust& adjust,
                              std::optional<uint32_t> through = {});
/// The mean colour of what lies below a layer, over the area its mask shows.
Result<EncodedColor> meanBelow(const Document& document, uint32_t id, const Progress& progress = {});

// ---- fill (edit_fill.cpp)

/// Moves a painted layer's channels toward `values` by `strength` (0…1) of the way; 0.26 moves 26 %. Channels
/// without a value stay. `part` kNone fills all parts. What the guard protects stays.
Result<Document> withFilled(const Document& document, uint32_t id, const ChannelValues& values,
                            float strength, uint32_t part = kNone);
/// The same on all parts, by as much as the mask of layer `through` shows: its painted mask and its maps
/// together. An error when that layer has neither.
Result<Document> withFilledThrough(const Document& document, uint32_t id, const ChannelValues& values,
                                   float strength, uint32_t through);
/// Values of its own for each part in one go; parts that are not named stay.
Result<Document> withPartsFilled(const Document& document, uint32_t id,
                                 const std::map<uint32_t, ChannelValues>& values, float strength = 1);
/// Moves a mask toward `value` (0 hides, 1 shows) by `strength` of the way.
Result<Document> withMaskFilled(const Document& document, uint32_t id, float value, float strength,
                                uint32_t part = kNone);

// ---- board and wells (edit_board.cpp)

/// Puts a picture on the board, after those that are there.
/// A UV set of the document's own, before all others; another name where its own is taken.
Result<Document> withUvs(const Document& document, UvSet set);
/// Takes one of those away again, by its place among the sculpt's.
Result<Document> withoutUvs(const Document& document, size_t set);

Document withPicture(const Document& document, std::string name, PicturePointer data);
Result<Document> withoutPicture(const Document& document, uint32_t id);
/// What of a picture is shown; see BoardPicture.
Result<Document> withPictureView(const Document& document, uint32_t id, float centerX, float centerY,
                                 float nearer);
Document withWells(const Document& document, std::vector<EncodedColor> wells);

// ---- the surface (edit_surface.cpp)

/// The plane strokes are mirrored in, in place of x = 0 (mirror_plane.cpp). The error says that its normal is
/// not one long, or that it lies far from the figure.
Result<Document> withMirrorPlane(const Document& document, const MirrorPlane& plane);
/// Strokes find the other side in this pose: a place for each vertex of the sculpt as its file gave it.
Result<Document> withRestPose(const Document& document, std::vector<Vec3> vertices,
                              const Progress& progress = {});
Document withoutRestPose(const Document& document);
/// The skin at rest anew, where a document got another surface.
Outcome restAgain(Document& document, const Progress& progress = {});
/// The points a painted mask shows, or the guard leaves free (`id` kGuard), half and more, as Refinement has
/// them. The error says that there is no mask, or that it shows nothing.
Result<std::vector<uint32_t>> pointsShownBy(const Document& document, uint32_t id);
/// More samples; every layer and mask is carried over.
Result<Document> withRefinement(const Document& document, const Refinement& refinement,
                                const Progress& progress = {});
/// The sculpt stands another way, or its unit is another. What lies on the skin stays on it: paint, masks,
/// zones, landmarks; directions of maps stay those of the scene.
Result<Document> withPlacement(const Document& document, const Placement& placement,
                               const Progress& progress = {});
/// Whether the pen may work on this layer (its colour, or its mask); the error is what the window says.
Outcome paintable(const Document& document, uint32_t id, bool onMask);

}  // namespace juvenor
