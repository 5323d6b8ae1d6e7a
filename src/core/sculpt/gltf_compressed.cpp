#include "core/sculpt/gltf_compressed.h"

#include <draco/compression/decode.h>
#include <fmt/format.h>
#include <meshoptimizer.h>

#include <span>

namespace juvenor {
namespace {

constexpr const char* kDraco = "KHR_draco_mesh_compression";
constexpr const char* kMeshopt = "EXT_meshopt_compression";
// What no real file holds: unpacked sizes are claims until they are checked.
constexpr size_t kMostBytes = size_t{1} << 32;

size_t numberAt(const tinygltf::Value& object, const char* key, size_t fallback) {
  if (!object.Has(key) || !object.Get(key).IsNumber()) return fallback;
  const double value = object.Get(key).GetNumberAsDouble();
  return value >= 0 && value < 1e15 ? static_cast<size_t>(value) : SIZE_MAX;
}

Result<std::span<const unsigned char>> bytesAt(const tinygltf::Model& model, size_t buffer, size_t offset,
                                               size_t length) {
  if (buffer >= model.buffers.size()) return Error{fmt::format("buffer {} does not exist", buffer)};
  const auto& data = model.buffers[buffer].data;
  if (offset > data.size() || length > data.size() - offset)
    return Error{fmt::format("compressed data reaches beyond buffer {} of {} bytes", buffer, data.size())};
  return std::span(data).subspan(offset, length);
}

Outcome unpacked(std::span<const unsigned char> from, size_t count, size_t stride, const std::string& mode,
                 const std::string& filter, std::vector<unsigned char>& out) {
  int failed = 1;
  if (mode == "ATTRIBUTES" && stride % 4 == 0 && stride >= 4 && stride <= 256)
    failed = meshopt_decodeVertexBuffer(out.data(), count, stride, from.data(), from.size());
  else if (mode == "TRIANGLES" && (stride == 2 || stride == 4) && count % 3 == 0)
    failed = meshopt_decodeIndexBuffer(out.data(), count, stride, from.data(), from.size());
  else if (mode == "INDICES" && (stride == 2 || stride == 4))
    failed = meshopt_decodeIndexSequence(out.data(), count, stride, from.data(), from.size());
  else
    return Error{
        fmt::format("meshopt data of mode '{}' with {} bytes an element is not understood", mode, stride)};
  if (failed != 0) return Error{"meshopt data is damaged"};
  if (filter == "OCTAHEDRAL" && (stride == 4 || stride == 8))
    meshopt_decodeFilterOct(out.data(), count, stride);
  else if (filter == "QUATERNION" && stride == 8)
    meshopt_decodeFilterQuat(out.data(), count, stride);
  else if (filter == "EXPONENTIAL" && stride % 4 == 0)
    meshopt_decodeFilterExp(out.data(), count, stride);
  else if (!filter.empty() && filter != "NONE")
    return Error{fmt::format("meshopt data with the filter '{}' is not understood", filter)};
  return Done{};
}

Outcome unpackView(tinygltf::Model& model, size_t index) {
  const tinygltf::Value& extension = model.bufferViews[index].extensions.at(kMeshopt);
  const auto text = [&](const char* key) {
    return extension.Has(key) && extension.Get(key).IsString() ? extension.Get(key).Get<std::string>()
                                                               : std::string();
  };
  const auto from =
      bytesAt(model, numberAt(extension, "buffer", SIZE_MAX), numberAt(extension, "byteOffset", 0),
              numberAt(extension, "byteLength", SIZE_MAX));
  if (!from) return from.error();
  const size_t count = numberAt(extension, "count", SIZE_MAX),
               stride = numberAt(extension, "byteStride", SIZE_MAX);
  // every 16 elements take a byte at least
  if (stride == 0 || stride > 256 || count > kMostBytes / stride || count / 16 > from->size() + 1)
    return Error{fmt::format("meshopt data promises {} elements of {} bytes", count, stride)};
  tinygltf::Buffer buffer;
  buffer.data.resize(count * stride);
  if (const Outcome ok = unpacked(*from, count, stride, text("mode"), text("filter"), buffer.data); !ok)
    return ok;
  auto& view = model.bufferViews[index];
  view.buffer = static_cast<int>(model.buffers.size());
  view.byteOffset = 0;
  view.byteLength = buffer.data.size();
  model.buffers.push_back(std::move(buffer));
  return Done{};
}

Result<DracoMesh::Values> valuesOf(const draco::Mesh& mesh, const draco::PointAttribute& attribute) {
  DracoMesh::Values out;
  out.components = attribute.num_components();
  if (out.components < 1 || out.components > 4) return Error{"a Draco attribute has no known form"};
  out.values.resize(size_t{mesh.num_points()} * static_cast<size_t>(out.components));
  for (uint32_t p = 0; p < mesh.num_points(); ++p) {
    const auto place = attribute.mapped_index(draco::PointIndex(p));
    if (place.value() >= attribute.size()) return Error{"the Draco data is damaged"};
    if (!attribute.ConvertValue<float>(place, static_cast<int8_t>(out.components),
                                       &out.values[size_t{p} * static_cast<size_t>(out.components)]))
      return Error{"a Draco attribute has no known form"};
  }
  return out;
}

}  // namespace

Outcome unpackMeshopt(tinygltf::Model& model) {
  for (size_t i = 0; i < model.bufferViews.size(); ++i)
    if (model.bufferViews[i].extensions.contains(kMeshopt))
      if (const Outcome ok = caught([&] { return unpackView(model, i); }); !ok)
        return Error{fmt::format("buffer view {}: {}", i, ok.error().what)};
  return Done{};
}

Result<DracoMesh> unpackDraco(const tinygltf::Model& model, const tinygltf::Primitive& primitive) {
  const tinygltf::Value& extension = primitive.extensions.at(kDraco);
  const size_t view = numberAt(extension, "bufferView", SIZE_MAX);
  if (view >= model.bufferViews.size()) return Error{"the Draco data lies in no buffer view"};
  const auto& v = model.bufferViews[view];
  const auto from = bytesAt(model, static_cast<size_t>(std::max(0, v.buffer)), v.byteOffset, v.byteLength);
  if (!from) return from.error();
  draco::DecoderBuffer buffer;
  buffer.Init(reinterpret_cast<const char*>(from->data()), from->size());
  draco::Decoder decoder;
  auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
  if (!decoded.ok())
    return Error{fmt::format("the Draco data is damaged ({})", decoded.status().error_msg_string())};
  const std::unique_ptr<draco::Mesh> mesh = std::move(decoded).value();
  DracoMesh out;
  out.vertices = mesh->num_points();
  for (uint32_t f = 0; f < mesh->num_faces(); ++f)
    for (const auto& point : mesh->face(draco::FaceIndex(f))) {
      if (point.value() >= out.vertices) return Error{"the Draco data is damaged"};
      out.indices.push_back(point.value());
    }
  if (!extension.Has("attributes") || !extension.Get("attributes").IsObject())
    return Error{"the Draco data does not say what it holds"};
  for (const std::string& name : extension.Get("attributes").Keys()) {
    const size_t id = numberAt(extension.Get("attributes"), name.c_str(), SIZE_MAX);
    const draco::PointAttribute* attribute =
        id < (size_t{1} << 31) ? mesh->GetAttributeByUniqueId(static_cast<uint32_t>(id)) : nullptr;
    if (!attribute) return Error{fmt::format("the Draco data has no attribute '{}'", name)};
    auto values = valuesOf(*mesh, *attribute);
    if (!values) return values.error();
    out.attributes[name] = std::move(*values);
  }
  return out;
}

}  // namespace juvenor
