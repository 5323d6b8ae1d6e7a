#include <map>
#include <numeric>

#include "core/document/edits/edits.h"
#include "core/document/edits/share_again.h"
#include "core/document/surface_state.h"
#include "core/layers/prepared_layer.h"
#include "core/layers/sources/moved_skin.h"
#include "core/surface/build/refine_where.h"
#include "core/surface/build/relabel.h"

namespace juvenor {

Result<std::vector<uint32_t>> pointsShownBy(const Document& document, uint32_t id) {
  const auto mask = maskFieldOf(document, id);
  if (!mask) return mask.error();
  std::vector<uint32_t> out = rangesOf(*mask);
  if (out.empty()) return Error{"the mask hides everything: there is nowhere to add points"};
  return out;
}

namespace {

// Where points are joined is a matter of the file's parts alone, as it is when a document is opened.
std::shared_ptr<const Surface> inFileParts(const Document& document) {
  const Surface& surface = *document.surface;
  if (!document.parts.any()) return document.surface;
  std::vector<uint32_t> parts(document.parts.ownNames.size());
  std::iota(parts.begin(), parts.end(), 0u);
  return relabelled(surface, partsFromParents(surface.triangleParts, document.parts.labels->own), parts);
}

}  // namespace

Result<Document> withRefinement(const Document& document, const Refinement& refinement,
                                const Progress& progress) {
  const auto before = unplaced(inFileParts(document), document.placement);
  auto refined = refine(*before, refinement, kMostSamples, progress);
  if (!refined) return refined.error();
  if (document.parts.any())
    refined->surface =
        relabelled(*refined->surface, partsFromParents(refined->parents, document.surface->triangleParts),
                   document.parts.labels->own);
  Document out = document;
  setSurface(out, placed(refined->surface, document.placement));
  out.refinements.push_back(refinement);
  if (const Outcome ok = restAgain(out, progress); !ok) return ok.error();
  std::map<SourcePointer, SourcePointer> sources;  // finer ones, by those before
  eachLayer(out, [&](LayerPointer& pointer) {
    Layer layer = *pointer;
    SourcePointer& source = sources[layer.source];
    if (!source) source = layer.source->refined(*refined);
    layer.source = source;
    if (layer.mask) layer.mask = refinedField(*layer.mask, refined->origins);
    pointer = std::make_shared<Layer>(std::move(layer));
  });
  shareAgain(out);
  for (auto own : {&Document::guard, &Document::doubt})
    if (out.*own) out.*own = refinedField(*(out.*own), refined->origins);
  giveDoubt(out);
  // what layers derive from the shape is measured anew on the finer surface
  const auto ready = prepared(out.layers, *out.maps, progress);
  if (!ready) return ready.error();
  return out;
}

Result<Document> withPlacement(const Document& document, const Placement& placement,
                               const Progress& progress) {
  if (const Outcome sound = checked(placement); !sound) return sound.error();
  Document out = document;
  out.placement = placement;
  const Eigen::Matrix3f turn = turnOf(placement) * turnOf(document.placement).transpose();
  if (turn.isIdentity(0)) return out;
  setSurface(out, placed(unplaced(document.surface, document.placement), placement));
  giveDoubt(out);
  if (const Outcome ok = restAgain(out, progress); !ok) return ok.error();
  const MovedSkin skin = turnedSkin(turn);
  for (Slide& slide : out.slides) slide = moved(std::move(slide), skin);
  for (Landmark& landmark : out.landmarks) landmark.position = turn * landmark.position;
  for (KeptCamera& kept : out.cameras) {
    Camera& camera = kept.look.camera;
    camera.target = turn * camera.target;
    camera.turn = (Eigen::Quaternionf(turn) * camera.turn).normalized();
    if (kept.look.focus.sharp) kept.look.focus.sharp = turn * *kept.look.focus.sharp;
  }
  // (x = 0 is meant of the scene)
  if (out.mirror != MirrorPlane{}) out.mirror = moved(out.mirror, skin);
  eachLayer(out, [&](LayerPointer& pointer) {
    Layer layer = *pointer;
    layer.source = movedSource(*layer.source, skin);
    if (layer.source) pointer = std::make_shared<Layer>(std::move(layer));
  });
  const auto ready = prepared(out.layers, *out.maps, progress);
  if (!ready) return ready.error();
  return out;
}

}  // namespace juvenor
