// glTF 2.0 binary through tinygltf: one node and mesh per part, POSITION, NORMAL, COLOR_0, numbers as
// attributes of our own, and TEXCOORD_n. The
// standard wants COLOR_0 linear; 16 bits normalised keep dark skin exact. glTF knows only triangles and one
// UV per vertex, so polygons are cut and vertices are split where UVs differ.

#include <algorithm>
#include <cctype>
#include <cstring>
#include <sstream>

#include "core/cell_members.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/gltf_library.h"

namespace juvenor {
namespace {

struct PartMesh {
  std::vector<uint32_t> vertices;  // into the sculpt
  std::vector<std::vector<uint32_t>> uvs;
  std::vector<uint32_t> indices;
};

// The polygons of each part, in order.
CellMembers polygonsByPart(const Sculpt& sculpt) {
  return CellMembers(sculpt.polygonPart, sculpt.parts.size());
}

// Splits vertices by their UVs: those made from one vertex of the sculpt hang in a chain.
class VertexSplitter {
 public:
  explicit VertexSplitter(const Sculpt& sculpt) : sculpt_(sculpt), first_(sculpt.vertices.size(), kNone) {}

  void begin(PartMesh& mesh) {
    mesh_ = &mesh;
    next_.clear();
  }
  uint32_t outputOf(uint32_t corner) {
    const uint32_t v = sculpt_.corners[corner];
    for (uint32_t o = first_[v]; o != kNone; o = next_[o])
      if (sameUvs(o, corner)) return o;
    const auto fresh = static_cast<uint32_t>(mesh_->vertices.size());
    next_.push_back(first_[v]);
    first_[v] = fresh;
    mesh_->vertices.push_back(v);
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

PartMesh meshOf(const Sculpt& sculpt, std::span<const uint32_t> polygons, VertexSplitter& splitter) {
  PartMesh mesh;
  mesh.uvs.resize(sculpt.uvSets.size());
  splitter.begin(mesh);
  std::vector<std::array<uint32_t, 3>> triangles;
  for (const uint32_t p : polygons) {
    triangles.clear();
    triangulate(sculpt.vertices, sculpt.polygon(p), triangles);
    for (const auto& t : triangles)
      for (const uint32_t c : t) mesh.indices.push_back(splitter.outputOf(sculpt.polygonStart[p] + c));
  }
  splitter.end();
  return mesh;
}

class GlbWriter {
 public:
  Result<std::string> write(const Sculpt& sculpt, const VertexFinish& finish);

 private:
  int accessor(std::span<const std::byte> data, size_t count, int componentType, int type, bool normalized,
               int target);
  int positions(const Sculpt& sculpt, const PartMesh& mesh);
  void attributes(const Sculpt& sculpt, const VertexFinish& finish, const PartMesh& mesh,
                  tinygltf::Primitive& out);

  tinygltf::Model model_;
  std::vector<unsigned char> buffer_;
};

int GlbWriter::accessor(std::span<const std::byte> data, size_t count, int componentType, int type,
                        bool normalized, int target) {
  while (buffer_.size() % 4 != 0) buffer_.push_back(0);
  tinygltf::BufferView view;
  view.buffer = 0;
  view.byteOffset = buffer_.size();
  view.byteLength = data.size();
  view.target = target;
  const auto* from = reinterpret_cast<const unsigned char*>(data.data());
  buffer_.insert(buffer_.end(), from, from + data.size());
  model_.bufferViews.push_back(view);
  tinygltf::Accessor a;
  a.bufferView = static_cast<int>(model_.bufferViews.size()) - 1;
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
                           tinygltf::Primitive& out) {
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
    out.attributes["COLOR_0"] =
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
  for (size_t s = 0; s < mesh.uvs.size(); ++s) {
    std::vector<Vec2> values;
    for (const uint32_t t : mesh.uvs[s]) {
      const Vec2 uv = t == kNone ? Vec2(0, 0) : sculpt.uvSets[s].coordinates[t];
      values.emplace_back(uv.x(), 1 - uv.y());
    }
    out.attributes["TEXCOORD_" + std::to_string(s)] =
        accessor(std::as_bytes(std::span(values)), values.size(), TINYGLTF_COMPONENT_TYPE_FLOAT,
                 TINYGLTF_TYPE_VEC2, false, TINYGLTF_TARGET_ARRAY_BUFFER);
  }
}

Result<std::string> GlbWriter::write(const Sculpt& sculpt, const VertexFinish& finish) {
  model_.asset.version = "2.0";
  model_.asset.generator = "Juvenor";
  tinygltf::Scene scene;
  tinygltf::Material material;
  material.name = "Skin";
  material.pbrMetallicRoughness.metallicFactor = 0;
  material.pbrMetallicRoughness.roughnessFactor = 0.6;
  model_.materials.push_back(material);
  const CellMembers polygons = polygonsByPart(sculpt);
  VertexSplitter splitter(sculpt);
  for (uint32_t part = 0; part < sculpt.parts.size(); ++part) {
    const PartMesh mesh = meshOf(sculpt, polygons.of(part), splitter);
    if (mesh.indices.empty()) continue;
    tinygltf::Primitive primitive;
    primitive.mode = TINYGLTF_MODE_TRIANGLES;
    primitive.material = 0;
    attributes(sculpt, finish, mesh, primitive);
    primitive.indices = accessor(std::as_bytes(std::span(mesh.indices)), mesh.indices.size(),
                                 TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT, TINYGLTF_TYPE_SCALAR, false,
                                 TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER);
    tinygltf::Mesh out;
    out.name = sculpt.parts[part];
    out.primitives.push_back(primitive);
    model_.meshes.push_back(out);
    tinygltf::Node node;
    node.name = sculpt.parts[part];
    // positions stay small floats; where the sculpt stands is the node's business
    if (!sculpt.offset.isZero()) node.translation = {sculpt.offset.x(), sculpt.offset.y(), sculpt.offset.z()};
    node.mesh = static_cast<int>(model_.meshes.size()) - 1;
    model_.nodes.push_back(node);
    scene.nodes.push_back(static_cast<int>(model_.nodes.size()) - 1);
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
  return GlbWriter().write(sculpt, finish);
}

}  // namespace juvenor
