#include "core/textures/worn_mesh.h"

#include <fmt/format.h>

#include <cmath>

#include "core/document/surface_state.h"
#include "core/sculpt/each_triangle.h"

namespace juvenor {
namespace {

// All but what belongs to vertices.
WornMesh facesOf(const Sculpt& sculpt, size_t uvSet) {
  WornMesh out;
  const size_t count = triangleCount(sculpt);
  out.triangles.resize(count);
  out.uv.resize(count);
  out.parts.resize(count);
  out.partNames = sculpt.parts;
  const UvSet& uv = sculpt.uvSets[uvSet];
  const Vec2 none = Vec2::Constant(std::numeric_limits<float>::quiet_NaN());
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle& places) {
    out.parts[t] = sculpt.polygonPart[p];
    for (size_t k = 0; k < 3; ++k) {
      const size_t corner = sculpt.polygonStart[p] + places[k];
      out.triangles[t][k] = sculpt.corners[corner];
      const uint32_t at = uv.corner[corner];
      out.uv[t][k] = at == kNone ? none : uv.coordinates[at];
    }
  });
  return out;
}

// Normals of a surface by the angles of the triangles around, so that it does not matter how polygons were
// cut (Thürmer, Wüthrich 1998).
std::vector<Vec3> normalsByAngle(const Surface& surface) {
  std::vector<Vec3> sums(surface.size(), Vec3::Zero());
  for (const Triangle& t : surface.triangles) {
    const auto at = [&](size_t k) -> const Vec3& { return surface.positions[t[k % 3]]; };
    const Vec3 normal = normalizedOr((at(1) - at(0)).cross(at(2) - at(0)), Vec3::Zero());
    for (size_t k = 0; k < 3; ++k) {
      const Vec3 after = normalizedOr(at(k + 1) - at(k), Vec3::Zero()),
                 before = normalizedOr(at(k + 2) - at(k), Vec3::Zero());
      sums[t[k]] += std::acos(std::clamp(after.dot(before), -1.f, 1.f)) * normal;
    }
  }
  for (size_t s = 0; s < sums.size(); ++s) sums[s] = normalizedOr(sums[s], surface.normals[s]);
  return sums;
}

// The weights a sample has in a triangle of the surface it was made from.
Vec2 weightsIn(const Surface& before, uint32_t parent, const Origin& origin, const Vec3& position) {
  const Triangle& t = before.triangles[parent];
  std::array<float, 3> weight{};
  float found = 0;
  for (size_t k = 0; k < 3; ++k)
    for (size_t c = 0; c < 3; ++c)
      if (origin.weight[k] > 0 && t[c] == origin.sample[k]) {
        weight[c] += origin.weight[k];
        found += origin.weight[k];
      }
  if (found > 0.999f) return {weight[1], weight[2]};
  // where points coincide a sample may be told by others than this triangle's: its foot in the plane
  const Vec3 a = before.positions[t[0]], ab = before.positions[t[1]] - a, ac = before.positions[t[2]] - a;
  const float bb = ab.squaredNorm(), cc = ac.squaredNorm(), bc = ab.dot(ac), whole = bb * cc - bc * bc;
  if (!(whole > 0)) return {0, 0};
  const Vec3 p = position - a;
  const float u = (cc * p.dot(ab) - bc * p.dot(ac)) / whole, v = (bb * p.dot(ac) - bc * p.dot(ab)) / whole;
  const float left = std::clamp(u, 0.f, 1.f);
  return {left, std::clamp(v, 0.f, 1.f - left)};
}

// Which triangle of the sculpt each of its surface is, where no points were added: those whose corners are
// three samples, by their lowest, as the surface has them.
std::vector<uint32_t> sculptTriangles(const Sculpt& sculpt, const Surface& surface) {
  std::vector<uint32_t> lowest(triangleCount(sculpt));
  eachTriangle(sculpt, [&](size_t t, size_t p, const Triangle& places) {
    Triangle s;
    for (size_t k = 0; k < 3; ++k)
      s[k] = surface.sampleOfVertex[sculpt.corners[sculpt.polygonStart[p] + places[k]]];
    lowest[t] = s[0] == s[1] || s[1] == s[2] || s[2] == s[0] ? kNone : std::min({s[0], s[1], s[2]});
  });
  std::vector<uint32_t> start(surface.size() + 1, 0), out(surface.triangles.size());
  for (const uint32_t s : lowest)
    if (s != kNone) ++start[s + 1];
  for (size_t s = 0; s < surface.size(); ++s) start[s + 1] += start[s];
  for (uint32_t t = 0; t < lowest.size(); ++t)
    if (lowest[t] != kNone) out[start[lowest[t]]++] = t;
  return out;
}

// The layout one refinement later.
SkinLayout after(const SkinLayout& before, const Surface& surface, const Refined& refined) {
  SkinLayout out;
  const Surface& finer = *refined.surface;
  out.sculptTriangle.resize(finer.triangles.size());
  out.within.resize(finer.triangles.size());
  parallel(finer.triangles.size(), [&](size_t t) {
    const uint32_t parent = refined.parents[t];
    out.sculptTriangle[t] = before.sculptTriangle[parent];
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t s = finer.triangles[t][k];
      const Vec2 w = weightsIn(surface, parent, refined.origins[s], finer.positions[s]);
      if (before.within.empty()) {
        out.within[t][k] = w;
        continue;
      }
      const auto& corners = before.within[parent];
      out.within[t][k] = (1 - w.x() - w.y()) * corners[0] + w.x() * corners[1] + w.y() * corners[2];
    }
  });
  return out;
}

}  // namespace

WornMesh wornSculpt(const Document& document, size_t uvSet) {
  WornMesh out = facesOf(*document.sculpt, uvSet);
  const Surface& surface = *document.surface;
  out.positions.reserve(surface.sampleOfVertex.size());
  out.normals.reserve(surface.sampleOfVertex.size());
  for (const uint32_t s : surface.sampleOfVertex) {
    out.positions.push_back(surface.positions[s]);
    out.normals.push_back(surface.normals[s]);
  }
  out.outward = out.normals;
  return out;
}

Result<WornMesh> wornMesh(const Sculpt& mesh, size_t uvSet, const Placement& placement,
                          const Document& document, const Progress& progress) {
  if (uvSet >= mesh.uvSets.size()) return Error{"has no UVs", mesh.name};
  const auto surface = buildSurface(mesh, progress);
  if (!surface) return surface.error();
  if ((*surface)->triangles.empty()) return Error{"has no triangle with an area", mesh.name};
  WornMesh out = facesOf(mesh, uvSet);
  const Eigen::Matrix3f turn = turnOf(placement);
  const Eigen::Matrix3d turnThere = turnOf(document.placement).cast<double>();
  const double scale =
      static_cast<double>(placement.millimetres) / static_cast<double>(document.placement.millimetres);
  const Eigen::Vector3d shift =
      scale * (turn.cast<double>() * mesh.offset) - turnThere * document.sculpt->offset;
  const std::vector<Vec3> smooth = normalsByAngle(**surface);
  Box box;
  for (size_t v = 0; v < mesh.vertices.size(); ++v) {
    const Eigen::Vector3d at = scale * (turn * mesh.vertices[v]).cast<double>() + shift;
    out.positions.push_back(at.cast<float>());
    box.add(out.positions.back());
    const Vec3& outward = smooth[(*surface)->sampleOfVertex[v]];
    const bool own = !mesh.normals.empty() && mesh.normals[v].squaredNorm() > 0;
    out.outward.push_back(turn * outward);
    out.normals.push_back(turn * (own ? mesh.normals[v] : outward));
  }
  const Box& skin = document.surface->bounds;
  const float near = 0.2f * skin.diagonal();
  if ((box.low.array() > skin.high.array() + near).any() ||
      (box.high.array() + near < skin.low.array()).any())
    return Error{
        fmt::format("stands beside the sculpt, not on it: it is {:.4g} across around ({:.4g}, {:.4g}, "
                    "{:.4g}), the sculpt {:.4g} around ({:.4g}, {:.4g}, {:.4g})",
                    box.diagonal(), box.center().x(), box.center().y(), box.center().z(), skin.diagonal(),
                    skin.center().x(), skin.center().y(), skin.center().z()),
        mesh.name};
  return out;
}

Result<SkinLayout> skinLayout(const Document& document, const Progress& progress) {
  SkinLayout out;
  if (document.refinements.empty()) {
    out.sculptTriangle = sculptTriangles(*document.sculpt, *document.surface);
    return out;
  }
  const auto steps = static_cast<float>(document.refinements.size() + 1);
  float done = 0;
  const Progress part = [&](float fraction) { return report(progress, (done + fraction) / steps); };
  auto surface = buildSurface(*importedSculpt(document), part, &out.sculptTriangle);
  if (!surface) return surface.error();
  for (const Refinement& refinement : document.refinements) {
    ++done;
    const auto refined = refine(**surface, refinement, kMostSamples, part);
    if (!refined) return refined.error();
    out = after(out, **surface, *refined);
    surface = refined->surface;
  }
  return out;
}

}  // namespace juvenor
