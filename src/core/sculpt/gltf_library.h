// tinygltf under a name of its own: another library this program loads (draco, behind assimp) exports the
// symbols of a different version of it, and mixing the two crashes. Include this instead of tiny_gltf.h.
#pragma once

#include <nlohmann/json.hpp>

#define tinygltf juvenor_tinygltf
#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_INCLUDE_JSON
#include <tiny_gltf.h>
#undef tinygltf
namespace tinygltf = juvenor_tinygltf;
