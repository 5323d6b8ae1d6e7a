// glTF 2.0 (ISO/IEC 12113), .glb and .gltf, parsed by tinygltf. Node transforms are applied, each node with a
// mesh becomes a part, COLOR_0 (linear, in any of its allowed types) becomes sRGB-encoded vertex colour,
// TEXCOORD_n become UV sets. tinygltf checks neither that accessors stay inside their buffers nor that nodes
// form a tree nor how deep a text is nested: all of that is done here, before anything is used.
#include <fmt/format.h>

#include <cmath>
#include <cstring>
#include <utility>

#include "core/json_fields.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/gltf_compressed.h"
#include "core/sculpt/gltf_textures.h"
#include "core/shortened.h"

namespace juvenor {
namespace {

using Matrix = Eigen::Matrix4d;

constexpr size_t kMostVertices = 100'000'000;

struct Span {
  const unsigned char* data = nullptr;
  size_t stride = 0;
};

class GltfReader {
 public:
  GltfReader(const tinygltf::Model& model, std::string where) : model_(model), where_(std::move(where)) {}
  /// `images`: the bytes of the model's pictures.
  Result<Sculpt> read(std::vector<std::string> images, const Progress& progress);

 private:
  bool fail(std::string what) {
    error_ = {std::move(what), where_};
    return false;
  }
  bool node(int index, const Matrix& parent, int depth);
  bool primitive(const tinygltf::Primitive& primitive, const Matrix& transform, uint32_t part);
  bool values(const tinygltf::Primitive& primitive, const std::string& name, int components,
              std::vector<float>& out);
  void addNormals(const std::vector<float>& values, const Matrix& transform, size_t first, size_t count);
  bool locate(int view, size_t offset, size_t element, size_t count, Span& out);
  bool floats(int accessor, int components, std::vector<float>& out);
  bool applySparse(const tinygltf::Accessor& accessor, int components, std::vector<float>& out);
  bool indices(const tinygltf::Primitive& primitive, size_t vertices, std::vector<uint32_t>& out);
  bool addColors(const tinygltf::Primitive& primitive, size_t first, size_t count);
  bool addUvs(const tinygltf::Primitive& primitive, size_t firstVertex, size_t firstCorner);
  bool integers(const Span& span, int type, size_t count, std::vector<uint32_t>& out);

  const tinygltf::Model& model_;
  std::string where_;
  Error error_;
  Sculpt sculpt_;
  std::vector<Eigen::Vector3d> positions_;
  std::vector<uint32_t> polygonMaterial_;
  std::vector<char> visited_;       // nodes
  std::optional<DracoMesh> draco_;  // of the primitive at hand, when it is compressed
};

Matrix transformOf(const tinygltf::Node& n) {
  if (n.matrix.size() == 16) return Eigen::Map<const Matrix>(n.matrix.data());
  Eigen::Affine3d t = Eigen::Affine3d::Identity();
  if (n.translation.size() == 3)
    t.translate(Eigen::Vector3d(n.translation[0], n.translation[1], n.translation[2]));
  if (n.rotation.size() == 4)
    t.rotate(Eigen::Quaterniond(n.rotation[3], n.rotation[0], n.rotation[1], n.rotation[2]).normalized());
  if (n.scale.size() == 3) t.scale(Eigen::Vector3d(n.scale[0], n.scale[1], n.scale[2]));
  return t.matrix();
}

float normalizedComponent(const unsigned char* p, int type, bool normalized) {
  const auto get = [&]<class T>(T) {
    T v;
    std::memcpy(&v, p, sizeof(T));
    return v;
  };
  switch (type) {
    case TINYGLTF_COMPONENT_TYPE_FLOAT:
      return get(float{});
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
      return static_cast<float>(get(uint8_t{})) / (normalized ? 255.f : 1.f);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
      return static_cast<float>(get(uint16_t{})) / (normalized ? 65535.f : 1.f);
    case TINYGLTF_COMPONENT_TYPE_BYTE:
      return normalized ? std::max(-1.f, static_cast<float>(get(int8_t{})) / 127.f)
                        : static_cast<float>(get(int8_t{}));
    case TINYGLTF_COMPONENT_TYPE_SHORT:
      return normalized ? std::max(-1.f, static_cast<float>(get(int16_t{})) / 32767.f)
                        : static_cast<float>(get(int16_t{}));
    default:
      return static_cast<float>(get(uint32_t{}));
  }
}

bool GltfReader::locate(int view, size_t offset, size_t element, size_t count, Span& out) {
  if (view < 0 || static_cast<size_t>(view) >= model_.bufferViews.size())
    return fail(fmt::format("buffer view {} does not exist", view));
  const auto& v = model_.bufferViews[static_cast<size_t>(view)];
  if (v.buffer < 0 || static_cast<size_t>(v.buffer) >= model_.buffers.size())
    return fail(fmt::format("buffer {} does not exist", v.buffer));
  const auto& buffer = model_.buffers[static_cast<size_t>(v.buffer)].data;
  const size_t stride = v.byteStride ? v.byteStride : element;
  if (v.byteOffset > buffer.size() || v.byteLength > buffer.size() - v.byteOffset)
    return fail(fmt::format("buffer view {} reaches beyond its buffer of {} bytes", view, buffer.size()));
  // no sum or product here can run over: each is of what was found to be small enough before
  const bool first = offset <= v.byteLength && element <= v.byteLength - offset;
  if (count > 0 && !(first && count - 1 <= (v.byteLength - offset - element) / std::max<size_t>(1, stride)))
    return fail(fmt::format("{} elements of {} bytes do not fit into buffer view {} of {} bytes", count,
                            element, view, v.byteLength));
  out = {count > 0 ? buffer.data() + v.byteOffset + offset : nullptr, stride};
  return true;
}

bool GltfReader::integers(const Span& span, int type, size_t count, std::vector<uint32_t>& out) {
  out.resize(count);
  for (size_t i = 0; i < count; ++i) {
    const unsigned char* p = span.data + i * span.stride;
    if (type == TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE) {
      out[i] = *p;
    } else if (type == TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT) {
      uint16_t v;
      std::memcpy(&v, p, 2);
      out[i] = v;
    } else if (type == TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT) {
      std::memcpy(&out[i], p, 4);
    } else {
      return fail("indices are of a type that is none for them");
    }
  }
  return true;
}

bool GltfReader::applySparse(const tinygltf::Accessor& a, int components, std::vector<float>& out) {
  if (!a.sparse.isSparse) return true;
  const size_t count = static_cast<size_t>(std::max(0, a.sparse.count));
  const int size = tinygltf::GetComponentSizeInBytes(static_cast<uint32_t>(a.componentType));
  const int indexSize =
      tinygltf::GetComponentSizeInBytes(static_cast<uint32_t>(a.sparse.indices.componentType));
  if (indexSize <= 0 || a.sparse.indices.byteOffset < 0 || a.sparse.values.byteOffset < 0)
    return fail("a sparse accessor has indices of no known type or place");
  Span where, values;
  std::vector<uint32_t> index;
  if (!locate(a.sparse.indices.bufferView, static_cast<size_t>(a.sparse.indices.byteOffset),
              static_cast<size_t>(indexSize), count, where) ||
      !locate(a.sparse.values.bufferView, static_cast<size_t>(a.sparse.values.byteOffset),
              static_cast<size_t>(size * components), count, values) ||
      !integers(where, a.sparse.indices.componentType, count, index))
    return false;
  for (size_t i = 0; i < count; ++i) {
    if (index[i] >= a.count)
      return fail(fmt::format("a sparse accessor names element {} of {}", index[i], a.count));
    for (int c = 0; c < components; ++c)
      out[index[i] * static_cast<size_t>(components) + static_cast<size_t>(c)] =
          normalizedComponent(values.data + i * values.stride + c * size, a.componentType, a.normalized);
  }
  return true;
}

// All elements of an accessor as floats, `components` of each.
bool GltfReader::floats(int accessor, int components, std::vector<float>& out) {
  if (accessor < 0 || static_cast<size_t>(accessor) >= model_.accessors.size())
    return fail(fmt::format("accessor {} does not exist", accessor));
  const auto& a = model_.accessors[static_cast<size_t>(accessor)];
  const int size = tinygltf::GetComponentSizeInBytes(static_cast<uint32_t>(a.componentType));
  const int has = tinygltf::GetNumComponentsInType(static_cast<uint32_t>(a.type));
  if (size <= 0 || size > 4 || has < components)
    return fail(fmt::format("accessor {} has the wrong type", accessor));
  size_t room = 0;
  for (const auto& b : model_.buffers) room += b.data.size();
  if (a.count > kNone / 4 || (a.bufferView < 0 && a.count > (1u << 26)) ||
      (a.bufferView >= 0 && a.count > room))
    return fail(fmt::format("accessor {} promises {} elements", accessor, a.count));
  out.assign(a.count * static_cast<size_t>(components), 0.f);
  if (a.bufferView >= 0) {
    Span span;
    if (!locate(a.bufferView, a.byteOffset, static_cast<size_t>(size * has), a.count, span)) return false;
    for (size_t i = 0; i < a.count; ++i)
      for (int c = 0; c < components; ++c)
        out[i * static_cast<size_t>(components) + static_cast<size_t>(c)] =
            normalizedComponent(span.data + i * span.stride + c * size, a.componentType, a.normalized);
  }
  return applySparse(a, components, out);
}

// An attribute of the primitive at hand; nothing in `out` when it has none of that name.
bool GltfReader::values(const tinygltf::Primitive& primitive, const std::string& name, int components,
                        std::vector<float>& out) {
  out.clear();
  const auto found = primitive.attributes.find(name);
  const auto packed =
      draco_ ? draco_->attributes.find(name) : std::map<std::string, DracoMesh::Values>::iterator();
  if (draco_ && packed != draco_->attributes.end()) {
    const auto& [has, from] = packed->second;
    if (has < components) return fail(fmt::format("{} has too few components", name));
    const auto rows = draco_->vertices;
    for (size_t i = 0; i < rows; ++i)
      for (int c = 0; c < components; ++c)
        out.push_back(from[i * static_cast<size_t>(has) + static_cast<size_t>(c)]);
    return true;
  }
  return found == primitive.attributes.end() || floats(found->second, components, out);
}

bool GltfReader::indices(const tinygltf::Primitive& primitive, size_t vertices, std::vector<uint32_t>& out) {
  std::vector<uint32_t> order;
  if (draco_) {
    order = draco_->indices;
  } else if (primitive.indices < 0) {
    order.resize(vertices);
    for (uint32_t i = 0; i < vertices; ++i) order[i] = i;
  } else {
    if (static_cast<size_t>(primitive.indices) >= model_.accessors.size())
      return fail(fmt::format("accessor {} does not exist", primitive.indices));
    const auto& a = model_.accessors[static_cast<size_t>(primitive.indices)];
    const int size = tinygltf::GetComponentSizeInBytes(static_cast<uint32_t>(a.componentType));
    Span span;
    if (size <= 0 || size > 4) return fail("indices have no known type");
    if (!locate(a.bufferView, a.byteOffset, static_cast<size_t>(size), a.count, span) ||
        !integers(span, a.componentType, a.count, order))
      return false;
  }
  for (const uint32_t i : order)
    if (i >= vertices) return fail(fmt::format("an index names vertex {}, but the mesh has {}", i, vertices));
  const size_t n = order.size();
  if (primitive.mode == TINYGLTF_MODE_TRIANGLES || primitive.mode == -1) {
    order.resize(n - n % 3);
    out = std::move(order);
  } else if (primitive.mode == TINYGLTF_MODE_TRIANGLE_STRIP) {
    for (size_t i = 2; i < n; ++i) {
      out.push_back(order[i - 2]);
      out.push_back(order[i % 2 == 0 ? i - 1 : i]);
      out.push_back(order[i % 2 == 0 ? i : i - 1]);
    }
  } else if (primitive.mode == TINYGLTF_MODE_TRIANGLE_FAN) {
    for (size_t i = 2; i < n; ++i) out.insert(out.end(), {order[0], order[i - 1], order[i]});
  }
  return true;
}

bool GltfReader::addColors(const tinygltf::Primitive& primitive, size_t first, size_t count) {
  std::vector<float> values;
  if (!this->values(primitive, "COLOR_0", 3, values)) return false;
  if (values.empty()) {
    if (!sculpt_.colors.empty()) sculpt_.colors.resize(first + count, {65535, 65535, 65535, 65535});
    return true;
  }
  if (values.size() < count * 3) return fail("COLOR_0 has fewer elements than POSITION");
  sculpt_.colors.resize(first, {65535, 65535, 65535, 65535});
  for (size_t i = 0; i < count; ++i)
    sculpt_.colors.push_back(
        opaque16(encode(LinearColor{values[i * 3], values[i * 3 + 1], values[i * 3 + 2]})));
  return true;
}

bool GltfReader::addUvs(const tinygltf::Primitive& primitive, size_t firstVertex, size_t firstCorner) {
  const UvTransform moved = shownTransform(model_, primitive.material);
  for (int set = 0; set < 8; ++set) {
    const size_t index = static_cast<size_t>(set);
    std::vector<float> values;
    if (!this->values(primitive, fmt::format("TEXCOORD_{}", set), 2, values)) return false;
    if (values.empty()) {
      if (sculpt_.uvSets.size() > index) sculpt_.uvSets[index].corner.resize(sculpt_.corners.size(), kNone);
      continue;
    }
    while (sculpt_.uvSets.size() <= index)
      sculpt_.uvSets.push_back({fmt::format("UV {}", sculpt_.uvSets.size() + 1), {}, {}});
    UvSet& uv = sculpt_.uvSets[index];
    const size_t base = uv.coordinates.size();
    // glTF counts v downward from the top, the other formats upward
    for (size_t i = 0; i + 1 < values.size(); i += 2) {
      Eigen::Vector2d at(values[i], values[i + 1]);
      if (set == moved.set) at = moved.matrix * at + moved.offset;
      uv.coordinates.emplace_back(static_cast<float>(at.x()), static_cast<float>(1 - at.y()));
    }
    uv.corner.resize(firstCorner, kNone);
    for (size_t c = firstCorner; c < sculpt_.corners.size(); ++c) {
      const size_t at = base + sculpt_.corners[c] - firstVertex;
      uv.corner.push_back(at < uv.coordinates.size() ? static_cast<uint32_t>(at) : kNone);
    }
  }
  return true;
}

// Normals turn with the inverse transpose; where a primitive has none they stay zero.
void GltfReader::addNormals(const std::vector<float>& values, const Matrix& transform, size_t first,
                            size_t count) {
  if (values.size() < 3 * count) {
    if (!sculpt_.normals.empty()) sculpt_.normals.resize(first + count, Vec3::Zero());
    return;
  }
  sculpt_.normals.resize(first, Vec3::Zero());
  const Eigen::Matrix3d turn = transform.topLeftCorner<3, 3>().inverse().transpose();
  for (size_t i = 0; i < count; ++i) {
    const Eigen::Vector3d n = turn * Eigen::Vector3d(values[i * 3], values[i * 3 + 1], values[i * 3 + 2]);
    sculpt_.normals.push_back(n.normalized().cast<float>());
  }
}

bool GltfReader::primitive(const tinygltf::Primitive& p, const Matrix& transform, uint32_t part) {
  draco_.reset();
  if (p.extensions.contains("KHR_draco_mesh_compression")) {
    auto mesh = caught([&] { return unpackDraco(model_, p); });
    if (!mesh) return fail(mesh.error().what);
    draco_ = std::move(*mesh);
  }
  std::vector<float> xyz, normals;
  if (!values(p, "POSITION", 3, xyz) || !values(p, "NORMAL", 3, normals)) return false;
  if (xyz.empty()) return true;
  const size_t count = xyz.size() / 3, first = positions_.size(), firstCorner = sculpt_.corners.size();
  // many nodes may show one mesh
  if (count > kMostVertices - first)
    return fail(
        fmt::format("has more than {} million vertices, all nodes together", kMostVertices / 1'000'000));
  if (p.mode >= 0 && p.mode < TINYGLTF_MODE_TRIANGLES) {
    sculpt_.remarks.push_back("points or lines were left out");
    return true;
  }
  std::vector<uint32_t> order;
  if (!indices(p, count, order)) return false;
  for (size_t i = 0; i < count; ++i) {
    const Eigen::Vector4d v = transform * Eigen::Vector4d(xyz[i * 3], xyz[i * 3 + 1], xyz[i * 3 + 2], 1);
    positions_.push_back(v.head<3>());
  }
  addNormals(normals, transform, first, count);
  if (!addColors(p, first, count)) return false;
  const bool flips = transform.topLeftCorner<3, 3>().determinant() < 0;
  if (sculpt_.polygonStart.empty()) sculpt_.polygonStart.push_back(0);
  for (size_t i = 0; i + 2 < order.size(); i += 3) {
    for (const size_t k : {size_t{0}, size_t{flips ? 2u : 1u}, size_t{flips ? 1u : 2u}})
      sculpt_.corners.push_back(static_cast<uint32_t>(first) + order[i + k]);
    sculpt_.polygonStart.push_back(static_cast<uint32_t>(sculpt_.corners.size()));
    sculpt_.polygonPart.push_back(part);
    polygonMaterial_.push_back(p.material >= 0 ? static_cast<uint32_t>(p.material) : kNone);
  }
  return addUvs(p, first, firstCorner);
}

bool GltfReader::node(int index, const Matrix& parent, int depth) {
  if (index < 0 || static_cast<size_t>(index) >= model_.nodes.size())
    return fail(fmt::format("node {} does not exist", index));
  if (depth > 256) return fail("nodes are nested more than 256 deep, or in a circle");
  if (std::exchange(visited_[static_cast<size_t>(index)], 1))
    return fail(fmt::format("node {} is reached in two ways, or in a circle; nodes form trees", index));
  const auto& n = model_.nodes[static_cast<size_t>(index)];
  const Matrix transform = parent * transformOf(n);
  if (n.mesh >= 0) {
    // what a skeleton moves stands where its joints are, wherever the node itself may be
    const Matrix own = n.skin >= 0 ? Matrix(Matrix::Identity()) : transform;
    if (static_cast<size_t>(n.mesh) >= model_.meshes.size())
      return fail(fmt::format("mesh {} does not exist", n.mesh));
    const auto& mesh = model_.meshes[static_cast<size_t>(n.mesh)];
    const auto part = static_cast<uint32_t>(sculpt_.parts.size());
    sculpt_.parts.push_back(!n.name.empty()      ? n.name
                            : !mesh.name.empty() ? mesh.name
                                                 : fmt::format("Part {}", sculpt_.parts.size() + 1));
    for (const auto& p : mesh.primitives)
      if (!primitive(p, own, part)) return false;
  }
  for (const int child : n.children)
    if (!node(child, transform, depth + 1)) return false;
  return true;
}

Result<Sculpt> GltfReader::read(std::vector<std::string> images, const Progress& progress) {
  std::vector<int> roots;
  if (!model_.scenes.empty()) {
    const size_t scene = model_.defaultScene >= 0 ? static_cast<size_t>(model_.defaultScene) : 0;
    if (scene >= model_.scenes.size()) return Error{fmt::format("scene {} does not exist", scene), where_};
    roots = model_.scenes[scene].nodes;
  } else {
    std::vector<char> below(model_.nodes.size(), 0);
    for (const auto& n : model_.nodes)
      for (const int child : n.children)
        if (child >= 0 && static_cast<size_t>(child) < below.size()) below[static_cast<size_t>(child)] = 1;
    for (size_t i = 0; i < below.size(); ++i)
      if (!below[i]) roots.push_back(static_cast<int>(i));
  }
  visited_.assign(model_.nodes.size(), 0);
  for (size_t i = 0; i < roots.size(); ++i) {
    if (!node(roots[i], Matrix::Identity(), 0)) return error_;
    if (!report(progress, 0.3f + 0.6f * static_cast<float>(i + 1) / static_cast<float>(roots.size())))
      return cancelledError();
  }
  for (UvSet& uv : sculpt_.uvSets) uv.corner.resize(sculpt_.corners.size(), kNone);
  placeVertices(sculpt_, positions_);
  const Outcome checked = finishSculpt(sculpt_, where_);
  if (!checked) return checked.error();
  if (!model_.textures.empty()) {
    BroughtMaterials materials = materialsOf(model_, std::move(images), sculpt_.remarks);
    materials.polygonMaterial = std::move(polygonMaterial_);
    sculpt_.materials = std::make_shared<const BroughtMaterials>(std::move(materials));
  }
  return std::move(sculpt_);
}

// The JSON of a .gltf, or of a .glb its first chunk; empty when there is none.
std::string_view jsonOf(std::string_view bytes) {
  if (!bytes.starts_with("glTF")) return bytes;
  uint32_t length = 0;
  if (bytes.size() < 20) return {};
  std::memcpy(&length, bytes.data() + 12, 4);
  return length > bytes.size() - 20 ? std::string_view() : bytes.substr(20, length);
}

// tinygltf refuses a primitive whose indices lie in no buffer view, as those of Draco-compressed ones do;
// they are in the compressed data. The same file without such references; empty when that is not needed.
std::string withoutDracoIndices(std::string_view bytes) {
  if (bytes.find(R"("KHR_draco_mesh_compression")") == std::string_view::npos) return {};
  const std::string_view text = jsonOf(bytes);
  auto parsed = parsedJson(text);
  if (!parsed) return {};
  nlohmann::json& document = *parsed;
  if (!document.is_object() || !document.contains("meshes") || !document["meshes"].is_array()) return {};
  for (auto& mesh : document["meshes"])
    if (mesh.is_object() && mesh.contains("primitives") && mesh["primitives"].is_array())
      for (auto& p : mesh["primitives"])
        if (p.is_object() && p.contains("extensions") && p["extensions"].is_object() &&
            p["extensions"].contains("KHR_draco_mesh_compression"))
          p.erase("indices");
  std::string out = textOf(document);
  if (!bytes.starts_with("glTF")) return out;
  while (out.size() % 4 != 0) out.push_back(' ');
  const auto word = [](size_t v) {
    const auto w = static_cast<uint32_t>(v);
    return std::string(reinterpret_cast<const char*>(&w), 4);
  };
  const std::string_view rest = bytes.substr(20 + text.size());
  return "glTF" + word(2) + word(20 + out.size() + rest.size()) + word(out.size()) + "JSON" + out +
         std::string(rest);
}

}  // namespace

Result<Sculpt> readGltf(std::string_view bytes, const std::string& where, const std::filesystem::path& folder,
                        const Progress& progress) {
  if (const Outcome sound = notTooDeep(jsonOf(bytes)); !sound) return Error{sound.error().what, where};
  const std::string changed = withoutDracoIndices(bytes);
  if (!changed.empty()) bytes = changed;
  if (bytes.size() > kNone) return Error{"is larger than the 4 GiB a glTF file can be", where};
  tinygltf::TinyGLTF loader;
  std::vector<std::string> images;
  keepImages(loader, images, folder);
  tinygltf::Model model;
  std::string problem, warning;
  const auto size = static_cast<unsigned>(bytes.size());
  bool ok = false;
  try {
    ok = bytes.starts_with("glTF")
             ? loader.LoadBinaryFromMemory(&model, &problem, &warning,
                                           reinterpret_cast<const unsigned char*>(bytes.data()), size,
                                           folder.string())
             : loader.LoadASCIIFromString(&model, &problem, &warning, bytes.data(), size, folder.string());
  } catch (const std::exception& e) {
    problem = e.what();
  }
  const bool old = model.asset.version.starts_with("1") ||
                   (bytes.size() > 8 && bytes.starts_with("glTF") && bytes[4] == 1) ||
                   (!ok && bytes.find("\"asset\"") == std::string_view::npos &&
                    bytes.find("\"shaders\"") != std::string_view::npos);
  if (old) return Error{"is glTF 1.0; this program reads glTF 2.0", where};
  if (!ok) {
    while (!problem.empty() && problem.back() == '\n') problem.pop_back();
    return Error{"is no readable glTF: " + (problem.empty() ? "unknown structure" : shortened(problem)),
                 where};
  }
  if (const Outcome unpacked = unpackMeshopt(model); !unpacked) return Error{unpacked.error().what, where};
  return GltfReader(model, where).read(std::move(images), progress);
}

}  // namespace juvenor
