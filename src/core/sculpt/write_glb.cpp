// glTF 2.0 binary through tinygltf: one node and mesh per part, POSITION, NORMAL, COLOR_0, numbers as
// attributes of our own, and TEXCOORD_n. The
// standard wants COLOR_0 linear; 16 bits normalised keep dark skin exact. glTF knows only triangles and one
// UV per vertex, so polygons are cut and vertices are split where UVs or tangents differ. With materials a
// part has a primitive for each of them.

#include <algorithm>
#include <cctype>
#include <cstring>
#include <map>
#include <sstream>

#include "core/cell_members.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/gltf_library.h"
#include "core/sculpt/gltf_materials.h"

namespace juvenor {
namespace {

struct PartMesh {
  std::vector<uint32_t> vertices;  // into the sculpt
  std::vector<std::vector<uint32_t>> uvs;
  std::vector<Eigen::Vector4f> tangents;
  std::vector<uint32_t> indices;
};

// The polygons of each part, in order.
CellMembers polygonsByPart(const Sculpt& sculpt) {
  return CellMembers(sculpt.polygonPart, sculpt.parts.size());
}

// Splits vertices by their UVs and tangents: those made from one vertex of the sculpt hang in a chain.
class VertexSplitter {
 public:
  explicit VertexSplitter(const Sculpt& sculpt) : sculpt_(sculpt), first_(sculpt.vertices.size(), kNone) {}

  void begin(PartMesh& mesh) {
    mesh_ = &mesh;
    next_.clear();
  }
  uint32_t outputOf(uint32_t corner, const Eigen::Vector4f* tangent) {
    const uint32_t v = sculpt_.corners[corner];
    for (uint32_t o = first_[v]; o != kNone; o = next_[o])
      if (sameUvs(o, corner) && (!tangent || mesh_->tangents[o] == *tangent)) return o;
    const auto fresh = static_cast<uint32_t>(mesh_->vertices.size());
    next_.push_back(first_[v]);
    first_[v] = fresh;
    mesh_->vertices.push_back(v);
    if (tangent) mesh_->tangents.push_back(*tangent);
    for (size_t s = 0; s < sculpt_.uvSets.size(); ++s)
      mesh_->uvs[s].push_back(sculpt_.uvSets[s].corner[corner]);
    return fresh;
  }
  void end() {
    for (const uint32_t v : mesh_->vertices) first_[v] = kNone;
  }

 private:
  bool sameUvs(uint32_t output, uint32_t corner) const {
    for (size_t s = 0; s < sculpt_.uvSets.size(); ++s)
      if (mesh_->uvs[s][output] != sculpt_.uvSets[s].corner[corner]) return false;
    return true;
  }

  const Sculpt& sculpt_;
  PartMesh* mesh_ = nullptr;
  std::vector<uint32_t> first_, next_;
};

PartMesh meshOf(const Sculpt& sculpt, std::span<const uint32_t> polygons, const MaterialSet* materials,
                VertexSplitter& splitter) {
  PartMesh mesh;
  mesh.uvs.resize(sculpt.uvSets.size());
  splitter.begin(mesh);
  std::vector<std::array<uint32_t, 3>> triangles;
  for (const uint32_t p : polygons) {
    triangles.clear();
    triangulate(sculpt.vertices, sculpt.polygon(p), triangles);
    const size_t first = sculpt.polygonStart[p] - 2 * size_t{p};
    for (size_t t = 0; t < triangles.size(); ++t)
      for (size_t k = 0; k < 3; ++k) {
        const bool tangents = materials && !materials->tangents.empty();
        mesh.indices.push_back(splitter.outputOf(sculpt.polygonStart[p] + triangles[t][k],
                                                 tangents ? &materials->tangents[first + t][k] : nullptr));
      }
  }
  splitter.end();
  return mesh;
}

// Its polygons by material, in their order.
std::map<uint32_t, std::vector<uint32_t>> byMaterial(std::span<const uint32_t> polygons,
                                                     const MaterialSet* materials) {
  std::map<uint32_t, std::vector<uint32_t>> out;
  for (const uint32_t p : polygons) out[materials ? materials->polygonMaterial[p] : 0].push_back(p);
  return out;
}

class GlbWriter {
 public:
  Result<std::string> write(const Sculpt& sculpt, const VertexFinish& finish, const MaterialSet* materials);

 private:
  int view(std::span<const std::byte> data);
  int accessor(std::span<const std::byte> data, size_t count, int componentType, int type, bool normalized,
               int target);
  int positions(const Sculpt& sculpt, const PartMesh& mesh);
  void attributes(const Sculpt& sculpt, const VertexFinish& finish, const PartMesh& mesh,
                  const MaterialSet* materials, uint32_t material, tinygltf::Primitive& out);

  tinygltf::Model model_;
  std::vector<unsigned char> buffer_;
};

int GlbWriter::view(std::span<const std::byte> data) {
  while (buffer_.size() % 4 != 0) buffer_.push_back(0);
  tinygltf::BufferView view;
  view.buffer = 0;
  view.byteOffset = buffer_.size();
  view.byteLength = data.size();
  const auto* from = reinterpret_cast<const unsigned char*>(data.data());
  buffer_.insert(buffer_.end(), from, from + data.size());
  model_.bufferViews.push_back(view);
  return static_cast<int>(model_.bufferViews.size()) - 1;
}

int GlbWriter::accessor(std::span<const std::byte> data, size_t count, int componentType, int type,
                        bool normalized, int target) {
  const int at = view(data);
  model_.bufferViews[static_cast<size_t>(at)].target = target;
  tinygltf::Accessor a;
  a.bufferView = at;
  a.count = count;
  a.componentType = componentType;
  a.type = type;
  a.normalized = normalized;
  model_.accessors.push_back(a);
  return static_cast<int>(model_.accessors.size()) - 1;
}

int GlbWriter::positions(const Sculpt& sculpt, const PartMesh& mesh) {
  std::vector<Vec3> values;
  values.reserve(mesh.vertices.size());
  Box box;
  for (const uint32_t v : mesh.vertices) {
    values.push_back(sculpt.vertices[v]);
    box.add(values.back());
  }
  const int id = accessor(std::as_bytes(std::span(values)), values.size(), TINYGLTF_COMPONENT_TYPE_FLOAT,
                          TINYGLTF_TYPE_VEC3, false, TINYGLTF_TARGET_ARRAY_BUFFER);
  auto& a = model_.accessors[static_cast<size_t>(id)];
  a.minValues = {box.low.x(), box.low.y(), box.low.z()};
  a.maxValues = {box.high.x(), box.high.y(), box.high.z()};
  return id;
}

void GlbWriter::attributes(const Sculpt& sculpt, const VertexFinish& finish, const PartMesh& mesh,
                           const MaterialSet* materials, uint32_t material, tinygltf::Primitive& out) {
  out.attributes["POSITION"] = positions(sculpt, mesh);
  if (!finish.normals.empty()) {
    std::vector<Vec3> values;
    for (const uint32_t v : mesh.vertices) values.push_back(finish.normals[v]);
    out.attributes["NORMAL"] =
        accessor(std::as_bytes(std::span(values)), values.size(), TINYGLTF_COMPONENT_TYPE_FLOAT,
                 TINYGLTF_TYPE_VEC3, false, TINYGLTF_TARGET_ARRAY_BUFFER);
  }
  if (!finish.colors.empty()) {
    std::vector<std::array<uint16_t, 4>> values;
    for (const uint32_t v : mesh.vertices) {
      const LinearColor c = decode(straight(finish.colors[v]));
      values.push_back({to16(c.r), to16(c.g), to16(c.b), 65535});
    }
    const bool multiplied = materials && materials->materials[material].baseColor >= 0;
    out.attributes[multiplied ? "_COLOR" : "COLOR_0"] =
        accessor(std::as_bytes(std::span(values)), values.size(), TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT,
                 TINYGLTF_TYPE_VEC4, true, TINYGLTF_TARGET_ARRAY_BUFFER);
  }
  for (const VertexNumbers& numbers : finish.numbers) {
    std::vector<float> values;
    for (const uint32_t v : mesh.vertices) values.push_back(numbers.values[v]);
    std::string name = "_" + numbers.name;
    std::ranges::transform(name, name.begin(), [](unsigned char c) { return std::toupper(c); });
    out.attributes[name] =
        accessor(std::as_bytes(std::span(values)), values.size(), TINYGLTF_COMPONENT_TYPE_FLOAT,
                 TINYGLTF_TYPE_SCALAR, false, TINYGLTF_TARGET_ARRAY_BUFFER);
  }
  if (!mesh.tangents.empty())
    out.attributes["TANGENT"] =
        accessor(std::as_bytes(std::span(mesh.tangents)), mesh.tangents.size(), TINYGLTF_COMPONENT_TYPE_FLOAT,
                 TINYGLTF_TYPE_VEC4, false, TINYGLTF_TARGET_ARRAY_BUFFER);
  for (size_t s = 0; s < mesh.uvs.size(); ++s) {
    const Vec2 tile = materials && s == 0 ? materials->tileOrigin[material] : Vec2(0, 0);
    std::vector<Vec2> values;
    for (const uint32_t t : mesh.uvs[s]) {
      const Vec2 uv = t == kNone ? Vec2(0, 0) : sculpt.uvSets[s].coordinates[t];
      values.emplace_back(uv.x() - tile.x(), 1 - uv.y() + tile.y());
    }
    out.attributes["TEXCOORD_" + std::to_string(s)] =
        accessor(std::as_bytes(std::span(values)), values.size(), TINYGLTF_COMPONENT_TYPE_FLOAT,
                 TINYGLTF_TYPE_VEC2, false, TINYGLTF_TARGET_ARRAY_BUFFER);
  }
}

Result<std::string> GlbWriter::write(const Sculpt& sculpt, const VertexFinish& finish,
                                     const MaterialSet* materials) {
  model_.asset.version = "2.0";
  model_.asset.generator = "Juvenor";
  tinygltf::Scene scene;
  if (materials) {
    addMaterials(*materials, model_,
                 [this](std::string_view bytes) { return view(std::as_bytes(std::span(bytes))); });
  } else {
    tinygltf::Material material;
    material.name = "Skin";
    material.pbrMetallicRoughness.metallicFactor = 0;
    material.pbrMetallicRoughness.roughnessFactor = 0.6;
    model_.materials.push_back(material);
  }
  const CellMembers polygons = polygonsByPart(sculpt);
  VertexSplitter splitter(sculpt);
  for (uint32_t part = 0; part < sculpt.parts.size(); ++part) {
    tinygltf::Mesh out;
    out.name = sculpt.parts[part];
    for (const auto& [material, own] : byMaterial(polygons.of(part), materials)) {
      const PartMesh mesh = meshOf(sculpt, own, materials, splitter);
      tinygltf::Primitive primitive;
      primitive.mode = TINYGLTF_MODE_TRIANGLES;
      primitive.material = static_cast<int>(material);
      if (materials) setVariants(*materials, material, primitive);
      attributes(sculpt, finish, mesh, materials, material, primitive);
      primitive.indices = accessor(std::as_bytes(std::span(mesh.indices)), mesh.indices.size(),
                                   TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT, TINYGLTF_TYPE_SCALAR, false,
                                   TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER);
      out.primitives.push_back(primitive);
    }
    if (out.primitives.empty()) continue;
    model_.meshes.push_back(out);
    tinygltf::Node node;
    node.name = sculpt.parts[part];
    // positions stay small floats; where the sculpt stands is the node's business
    if (!sculpt.offset.isZero()) node.translation = {sculpt.offset.x(), sculpt.offset.y(), sculpt.offset.z()};
    node.mesh = static_cast<int>(model_.meshes.size()) - 1;
    model_.nodes.push_back(node);
    scene.nodes.push_back(static_cast<int>(model_.nodes.size()) - 1);
  }
  if (materials) {
    addSurroundings(*materials, sculpt.offset, model_, scene);
    addVariants(*materials, model_);
  }
  if (buffer_.size() > 0xF0000000u) return Error{"the sculpt is too large for one glTF file (4 GiB)"};
  model_.scenes.push_back(scene);
  model_.defaultScene = 0;
  tinygltf::Buffer buffer;
  buffer.data = std::move(buffer_);
  model_.buffers.push_back(std::move(buffer));
  std::ostringstream out(std::ios::binary);
  tinygltf::TinyGLTF writer;
  if (!writer.WriteGltfSceneToStream(&model_, out, false, true)) return Error{"the glTF writer failed"};
  return std::move(out).str();
}

}  // namespace

Result<std::string> writeGlb(const Sculpt& sculpt, const VertexFinish& finish) {
  return GlbWriter().write(sculpt, finish, nullptr);
}

Result<std::string> writeTexturedGlb(const Sculpt& sculpt, const VertexFinish& finish,
                                     const MaterialSet& materials) {
  return GlbWriter().write(sculpt, finish, &materials);
}

}  // namespace juvenor
