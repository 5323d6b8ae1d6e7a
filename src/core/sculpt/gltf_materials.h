// Materials, cameras and lamps in a glTF model.
#pragma once

#include <functional>

#include "core/sculpt/gltf_library.h"
#include "core/sculpt/material.h"

namespace juvenor {

/// `viewOf` puts bytes into the file's buffer and gives the number of their view.
void addMaterials(const MaterialSet& materials, tinygltf::Model& model,
                  const std::function<int(std::string_view)>& viewOf);
/// The cameras and lamps, as nodes of the scene; `offset`: where the mesh's origin lies in the file.
void addSurroundings(const MaterialSet& materials, const Eigen::Vector3d& offset, tinygltf::Model& model,
                     tinygltf::Scene& scene);

/// Names the versions its materials come in, and says of a primitive which material each has for it; nothing
/// where there are none.
void addVariants(const MaterialSet& materials, tinygltf::Model& model);
void setVariants(const MaterialSet& materials, uint32_t material, tinygltf::Primitive& primitive);

}  // namespace juvenor
