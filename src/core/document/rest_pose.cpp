#include "core/document/rest_pose.h"

#include <fmt/format.h>

#include "core/document/word_hash.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

std::vector<Vec3> atVertices(const Surface& surface, const std::vector<Vec3>& vertices,
                             const Eigen::Matrix3f& turn) {
  std::vector<Vec3> out = surface.positions;  // (a sample without a vertex stays where it is)
  for (size_t v = vertices.size(); v-- > 0;) out[surface.sampleOfVertex[v]] = turn * vertices[v];
  return out;
}

}  // namespace

Result<RestPose> restPose(const Sculpt& imported, std::shared_ptr<const Surface> surface,
                          const Placement& placement, std::shared_ptr<const std::vector<Vec3>> vertices,
                          const Progress& progress) {
  if (vertices->size() != imported.vertices.size())
    return Error{fmt::format("the rest pose has {} vertices, the sculpt {}", vertices->size(),
                             imported.vertices.size())};
  for (size_t v = 0; v < vertices->size(); ++v)
    if (!((*vertices)[v].cwiseAbs().maxCoeff() < 1e18f))
      return Error{fmt::format("vertex {} of the rest pose is nowhere", v + 1)};
  RestPose out;
  WordHash hash;
  hash.add(*vertices);
  out.fingerprint = hash.value();
  out.vertices = vertices;
  const Eigen::Matrix3f turn = turnOf(placement);
  auto built = buildSurface(imported, progress);
  if (!built) return built.error();
  const auto base = placed(std::move(*built), placement);
  const RestSkin coarse(base, atVertices(*base, *vertices, turn));
  std::vector<Vec3> rest(surface->size());
  if (base->size() == surface->size()) {
    for (size_t s = 0; s < rest.size(); ++s) rest[s] = coarse.restOf(s);
  } else {
    // points that were added lie by the vertex that is nearest
    parallel(rest.size(), [&](size_t s) { rest[s] = coarse.atRest(surface->positions[s]); });
    for (size_t v = 0; v < vertices->size(); ++v)
      rest[surface->sampleOfVertex[v]] = coarse.restOf(base->sampleOfVertex[v]);
  }
  out.skin = std::make_shared<const RestSkin>(std::move(surface), std::move(rest));
  return out;
}

}  // namespace juvenor
