// STL, text and binary, through assimp. STL has no shared vertices: those that coincide to the bit are one,
// in the order they first come; what lies apart by less than can be seen the surface joins.
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <tbb/parallel_sort.h>

#include <assimp/Importer.hpp>
#include <cstring>
#include <numeric>

#include "core/sculpt/formats.h"

namespace juvenor {
namespace {

// Within each part: `partOf` says of each vertex whose it is.
void weld(Sculpt& sculpt, std::span<const uint32_t> partOf) {
  for (Vec3& v : sculpt.vertices) v += Vec3::Zero();  // −0 is 0
  // by their bits: a NaN is told of later, and must not upset the order
  const auto compared = [&](uint32_t a, uint32_t b) {
    if (partOf[a] != partOf[b]) return partOf[a] < partOf[b] ? -1 : 1;
    return std::memcmp(sculpt.vertices[a].data(), sculpt.vertices[b].data(), sizeof(Vec3));
  };
  std::vector<uint32_t> order(sculpt.vertices.size());
  std::iota(order.begin(), order.end(), 0u);
  tbb::parallel_sort(order.begin(), order.end(), [&](uint32_t a, uint32_t b) {
    const int c = compared(a, b);
    return c != 0 ? c < 0 : a < b;
  });
  std::vector<uint32_t> first(order.size());  // the first of those at the same place
  for (size_t i = 0; i < order.size(); ++i)
    first[order[i]] = i > 0 && compared(order[i - 1], order[i]) == 0 ? first[order[i - 1]] : order[i];
  std::vector<uint32_t>& place = order;  // from here on: where the first is now
  uint32_t kept = 0;
  for (uint32_t i = 0; i < first.size(); ++i) {
    if (first[i] != i) continue;
    sculpt.vertices[kept] = sculpt.vertices[i];
    place[i] = kept++;
  }
  for (uint32_t& c : sculpt.corners) c = place[first[c]];
  sculpt.vertices.resize(kept);
  sculpt.vertices.shrink_to_fit();
}

}  // namespace

Result<Sculpt> readStl(std::string_view bytes, const std::string& where, const Progress& progress) {
  Assimp::Importer importer;
  const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, "stl");
  if (!scene) return Error{std::string("is no readable STL: ") + importer.GetErrorString(), where};
  if (!report(progress, 0.7f)) return cancelledError();
  Sculpt sculpt;
  sculpt.polygonStart.push_back(0);
  std::vector<uint32_t> partOf;
  for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
    const aiMesh& mesh = *scene->mMeshes[m];
    const auto first = static_cast<uint32_t>(sculpt.vertices.size());
    const std::string name = mesh.mName.C_Str();
    sculpt.parts.push_back(name.empty() ? "Part " + std::to_string(m + 1) : name);
    partOf.resize(first + mesh.mNumVertices, m);
    for (unsigned i = 0; i < mesh.mNumVertices; ++i)
      sculpt.vertices.emplace_back(mesh.mVertices[i].x, mesh.mVertices[i].y, mesh.mVertices[i].z);
    for (unsigned f = 0; f < mesh.mNumFaces; ++f) {
      const aiFace& face = mesh.mFaces[f];
      if (face.mNumIndices < 3) continue;
      for (unsigned c = 0; c < face.mNumIndices; ++c) sculpt.corners.push_back(first + face.mIndices[c]);
      sculpt.polygonStart.push_back(static_cast<uint32_t>(sculpt.corners.size()));
      sculpt.polygonPart.push_back(m);
    }
  }
  weld(sculpt, partOf);
  placeVertices(sculpt);
  const Outcome checked = finishSculpt(sculpt, where);
  if (!checked) return checked.error();
  return sculpt;
}

}  // namespace juvenor
