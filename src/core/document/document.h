// The whole work as one immutable value. An edit is a function from document to document; versions share
// every chunk that did not change, and so undo, saving on another thread, comparing and restoring need no
// code of their own.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/document/board.h"
#include "core/document/checkpoint.h"
#include "core/document/kept_camera.h"
#include "core/document/landmark.h"
#include "core/document/made_parts.h"
#include "core/document/made_uvs.h"
#include "core/document/rest_pose.h"
#include "core/document/variant.h"
#include "core/layers/layer.h"
#include "core/photo/slide.h"
#include "core/surface/build/placement.h"
#include "core/surface/build/refine.h"
#include "core/surface/mirror/mirrors.h"

namespace juvenor {

struct Document {
  /// With what was made here: the UV sets `uvs` before those of its file, `parts` in place of its file's.
  std::shared_ptr<const Sculpt> sculpt;
  std::vector<MadeUvs> uvs;
  MadeParts parts;
  uint64_t shape = 0;  ///< the fingerprint of a sculpt all was carried over to; 0: that of its file
  std::shared_ptr<const Surface> surface;
  SurfaceMapsPointer maps;  ///< what is measured on `surface`; see setSurface
  Placement placement;      ///< how the surface stands; positions of everything else are as it stands
  std::vector<Refinement> refinements;     ///< how the surface came from the sculpt
  LayerStack layers;                       ///< bottom first; strata never mix
  uint32_t activeLayer = 0;                ///< an id, 0 when there is no layer
  uint32_t nextLayer = 1;                  ///< the id the next layer will get
  EncodedColor bare{0.78f, 0.78f, 0.78f};  ///< the sculpt's own tone where no layer covers it
  std::vector<EncodedColor> wells;
  std::set<uint32_t> hiddenParts;
  std::optional<ScalarField> guard;  ///< 0 is protected from every ink and fill, 65535 free; unset: all free
  std::optional<ScalarField> doubt;  ///< how unsure what was carried over is, 65535 most; unset: nothing is
  std::vector<Landmark> landmarks;   ///< those that are placed
  MirrorPlane mirror;                ///< the figure's own, in which strokes are mirrored in place of x = 0
  RestPose rest;                     ///< the pose the plane is meant in; none: as the figure stands
  std::vector<BoardPicture> board;
  uint32_t nextPicture = 1;
  std::vector<Slide> slides;  ///< as they are placed; layers they are thrown on hold the same
  uint32_t nextSlide = 1;
  std::vector<Checkpoint> checkpoints;  ///< oldest first; their layers count on in the same numbers
  uint32_t nextCheckpoint = 1;
  std::vector<KeptCamera> cameras;  ///< in the order they are shown
  uint32_t nextCamera = 1;
  std::vector<Variant> variants;  ///< in the order they are shown
  uint32_t nextVariant = 1;
  float reliefStep = 0;      ///< scene units between two heights; see setSurface
  uint32_t strokeCount = 0;  ///< how many strokes came before; spreads the rounding of the next
};

/// The sculpt as its file gave it, without what was made here.
std::shared_ptr<const Sculpt> importedSculpt(const Document& document);
/// Gives a document a sculpt as its file gave it, with what was made here.
void setImported(Document& document, std::shared_ptr<const Sculpt> imported);

/// Gives a document a surface and the maps that belong to it. The first surface says how fine heights are.
void setSurface(Document& document, std::shared_ptr<const Surface> surface);

/// What strokes of it are mirrored in.
Mirrors mirrorsOf(const Document& document);

/// Tells a document's maps what it says of doubt, so that masks and views have it as any map.
void giveDoubt(const Document& document);

/// A document over a fresh sculpt: its colours, when it has any, as a painted layer, and the default wells.
/// `surface` is as it was built.
Document newDocument(std::shared_ptr<const Sculpt> sculpt, std::shared_ptr<const Surface> surface,
                     const Placement& placement = {});

/// Which surface a document stands on, in words for a file.
std::string surfaceKey(const Document& document);

/// The layer with this id, or null.
LayerPointer layerOf(const Document& document, uint32_t id);
/// The same among layers and those of checkpoints.
LayerPointer layerOrKept(const Document& document, uint32_t id);
/// Calls `visit` with each layer, those of checkpoints too, to put another in its place.
void eachLayer(Document& document, const std::function<void(LayerPointer&)>& visit);
/// Its place in the stack; layers.size() when there is none.
size_t placeOf(const Document& document, uint32_t id);

/// Whether the skin has colour: a tone of its own that is no grey, or a layer that is seen and may bring
/// some.
bool hasColor(const Document& document);

/// Every picture it needs, by its fingerprint: of the board, of slides, of layers.
std::map<uint64_t, PicturePointer> picturesOf(const Document& document);

/// The eight or so skin colours a new document starts with.
std::vector<EncodedColor> defaultWells();

}  // namespace juvenor
