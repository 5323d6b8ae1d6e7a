#include "core/carry/rest_from_sculpt.h"

#include <fmt/format.h>

#include "core/carry/same_polygons.h"
#include "core/document/edits/edits.h"

namespace juvenor {

Result<Document> withRestFrom(const Document& document, const Sculpt& rest, const Progress& progress) {
  const auto imported = importedSculpt(document);
  const SamePolygons same = samePolygons(*imported, rest);
  if (!same.all)
    return Error{fmt::format("has other polygons than the sculpt: {} of {} vertices, {} of {} polygons",
                             rest.vertices.size(), imported->vertices.size(), rest.polygonCount(),
                             imported->polygonCount()),
                 rest.name};
  const Vec3 apart = (rest.offset - imported->offset).cast<float>();
  std::vector<Vec3> vertices(imported->vertices.size());
  for (size_t v = 0; v < vertices.size(); ++v) vertices[v] = rest.vertices[same.vertex[v]] + apart;
  return withRestPose(document, std::move(vertices), progress);
}

}  // namespace juvenor
