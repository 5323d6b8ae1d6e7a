// What a glTF file's materials show, and how their UVs are moved (KHR_texture_transform).
#pragma once

#include "core/sculpt/gltf_library.h"
#include "core/sculpt/material.h"

namespace juvenor {

/// How a texture moves the UVs of a set, v downward; `set` −1: not at all.
struct UvTransform {
  int set = -1;
  Eigen::Matrix2d matrix = Eigen::Matrix2d::Identity();
  Eigen::Vector2d offset = Eigen::Vector2d::Zero();
};
/// That of a material's base colour: the UVs a sculpt has are moved so, for what one sees lies where they are
/// then.
UvTransform shownTransform(const tinygltf::Model& model, int material);

/// Lets a loader keep the bytes of images in `bytes` (one for each) instead of decoding them, and read
/// nothing that lies outside `folder`. Both outlive its loading.
void keepImages(tinygltf::TinyGLTF& loader, std::vector<std::string>& bytes,
                const std::filesystem::path& folder);

/// All materials with textures that can be read; `polygonMaterial` is left empty. `remarks` receives what was
/// left out.
BroughtMaterials materialsOf(const tinygltf::Model& model, std::vector<std::string> images,
                             std::vector<std::string>& remarks);

}  // namespace juvenor
