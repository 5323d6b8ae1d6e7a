#include "core/render/kind_picture.h"

#include "core/layers/composite/composite.h"
#include "core/render/skin_patch.h"

namespace juvenor {

Result<std::vector<uint32_t>> sourcePicture(SourcePointer source, const ViewSize& size) {
  const auto patch = skinPatch();
  if (!patch) return Error{"there is no patch of skin"};
  static SurfaceMaps maps(patch);
  Layer layer;
  layer.id = 1;
  layer.source = std::move(source);
  const auto composite = compositeOf({std::make_shared<Layer>(std::move(layer))}, maps, kPatchTone);
  if (!composite) return composite.error();
  return patchPicture(*patch, *composite, size);
}

Result<std::vector<uint32_t>> kindPicture(const SourceKind& kind, const ViewSize& size) {
  const auto patch = skinPatch();
  if (!patch) return Error{"there is no patch of skin"};
  return sourcePicture(kind.example(*patch), size);
}

}  // namespace juvenor
