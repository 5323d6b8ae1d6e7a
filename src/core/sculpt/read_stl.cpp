// STL, text and binary, through assimp. STL has no shared vertices; the surface joins those that coincide.
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <assimp/Importer.hpp>

#include "core/sculpt/formats.h"

namespace juvenor {

Result<Sculpt> readStl(std::string_view bytes, const std::string& where, const Progress& progress) {
  Assimp::Importer importer;
  const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, "stl");
  if (!scene) return Error{std::string("is no readable STL: ") + importer.GetErrorString(), where};
  if (!report(progress, 0.7f)) return cancelledError();
  Sculpt sculpt;
  sculpt.polygonStart.push_back(0);
  for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
    const aiMesh& mesh = *scene->mMeshes[m];
    const auto first = static_cast<uint32_t>(sculpt.vertices.size());
    const std::string name = mesh.mName.C_Str();
    sculpt.parts.push_back(name.empty() ? "Part " + std::to_string(m + 1) : name);
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
  placeVertices(sculpt);
  const Outcome checked = finishSculpt(sculpt, where);
  if (!checked) return checked.error();
  return sculpt;
}

}  // namespace juvenor
