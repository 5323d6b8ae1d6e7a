// Compressed glTF: meshes packed by Draco (KHR_draco_mesh_compression), buffer views packed by meshoptimizer
// (EXT_meshopt_compression). Both libraries unpack what strangers made; every size is checked before.
#pragma once

#include <map>
#include <vector>

#include "core/result.h"
#include "core/sculpt/gltf_library.h"

namespace juvenor {

/// Puts what meshopt-compressed buffer views hold into buffers of their own; other views stay.
Outcome unpackMeshopt(tinygltf::Model& model);

/// What a Draco-compressed primitive holds: values by the attribute's name, `components` each, one row a
/// vertex.
struct DracoMesh {
  struct Values {
    int components = 0;
    std::vector<float> values;
  };
  size_t vertices = 0;
  std::map<std::string, Values> attributes;
  std::vector<uint32_t> indices;  ///< three a triangle, below `vertices`
};
/// The primitive must have the extension.
Result<DracoMesh> unpackDraco(const tinygltf::Model& model, const tinygltf::Primitive& primitive);

}  // namespace juvenor
