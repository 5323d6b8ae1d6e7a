#include "core/export/refined_sculpt.h"

#include <numeric>

#include "core/export/vertex_finish.h"
#include "core/sculpt/uv_places.h"
#include "core/textures/worn_mesh.h"

namespace juvenor {
namespace {

// A UV set on the triangles of the surface.
UvSet refinedUvs(const Document& document, const SkinLayout& layout, size_t set) {
  const WornMesh worn = wornSculpt(document, set);
  const Surface& surface = *document.surface;
  UvSet out{document.sculpt->uvSets[set].name, {}, {}};
  out.corner.reserve(3 * surface.triangles.size());
  UvPlaces places(out, surface.size());
  for (size_t t = 0; t < surface.triangles.size(); ++t)
    for (size_t k = 0; k < 3; ++k) {
      const Vec2 uv = atCorner(worn.uv[layout.sculptTriangle[t]], layout, t, k);
      out.corner.push_back(uv.allFinite() ? places.of(surface.triangles[t][k], uv) : kNone);
    }
  return out;
}

}  // namespace

std::vector<uint32_t> allSamples(const Surface& surface) {
  std::vector<uint32_t> out(surface.size());
  std::iota(out.begin(), out.end(), 0u);
  return out;
}

Result<Sculpt> refinedSculpt(const Document& document, const Progress& progress) {
  const Surface& surface = *document.surface;
  Sculpt out;
  out.name = document.sculpt->name;
  out.offset = document.sculpt->offset;
  out.parts = document.sculpt->parts;
  const Eigen::Matrix3f back = turnOf(document.placement).transpose();
  out.vertices.reserve(surface.size());
  for (const Vec3& p : surface.positions) out.vertices.push_back(back * p);
  out.polygonStart.reserve(surface.triangles.size() + 1);
  out.corners.reserve(3 * surface.triangles.size());
  out.polygonStart.push_back(0);
  for (const Triangle& t : surface.triangles) {
    out.corners.insert(out.corners.end(), t.begin(), t.end());
    out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
  }
  out.polygonPart = surface.triangleParts;
  if (document.sculpt->uvSets.empty()) return out;
  const auto layout = skinLayout(document, progress);
  if (!layout) return layout.error();
  for (size_t set = 0; set < document.sculpt->uvSets.size(); ++set)
    out.uvSets.push_back(refinedUvs(document, *layout, set));
  return out;
}

Outcome writeColoured(const std::filesystem::path& file, const Document& document, const ChannelFields& skin,
                      const ColouredSetting& setting, const Progress& progress) {
  const MadeParts& parts = document.parts;
  const bool others = parts.any() && !setting.madeParts;
  if (!setting.allPoints) {
    VertexFinish finish = finishOf(document, skin);
    if (!setting.withRelief && !others) return writeSculpt(file, *document.sculpt, finish);
    Sculpt out = setting.withRelief ? withReliefApplied(document, skin, finish) : *document.sculpt;
    if (others) putFileParts(out, parts);
    return writeSculpt(file, out, finish);
  }
  auto sculpt = refinedSculpt(document, progress);
  if (!sculpt) return sculpt.error();
  if (others) {
    sculpt->parts = parts.ownNames;
    for (uint32_t& part : sculpt->polygonPart) part = parts.labels->own[part];
  }
  const std::vector<uint32_t> samples = allSamples(*document.surface);
  VertexFinish finish = finishAt(document, skin, samples);
  if (setting.withRelief) applyRelief(*sculpt, document, skin, samples, finish);
  return writeSculpt(file, *sculpt, finish);
}

}  // namespace juvenor
