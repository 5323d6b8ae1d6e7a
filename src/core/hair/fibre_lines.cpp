#include "core/hair/fibre_lines.h"

#include <fmt/format.h>

#include <sstream>

#include "core/color/hair_tone.h"
#include "core/color/srgb.h"
#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/hair/grown_hair.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/gltf_library.h"

namespace juvenor {
namespace {

// The points of fibres that are seen: all but the outer two of each.
std::span<const FibrePoint> shownPoints(const Fibres& fibres, const Fibre& fibre) {
  return std::span(fibres.points).subspan(fibre.first + 1, fibre.points - 2);
}

std::string nameOf(const Document& document, uint32_t layer) {
  const LayerPointer found = layerOf(document, layer);
  return found ? found->name : "Hair";
}

Vec3 toneOf(const Fibre& fibre) {
  return hairTone(fibre.absorption);
}

// A mesh of one layer.
struct Lines {
  std::vector<Vec3> places;
  std::vector<std::array<uint16_t, 4>> colors;  // linear
  std::vector<float> radii;
  std::vector<uint32_t> indices;
};

Lines linesOf(const Document& document, const Fibres& fibres, std::span<const Fibre> own) {
  const Eigen::Matrix3f back = document.surface->turn.transpose();
  Lines out;
  for (const Fibre& fibre : own) {
    const Vec3 tone = toneOf(fibre);
    const auto points = shownPoints(fibres, fibre);
    for (size_t i = 0; i < points.size(); ++i) {
      if (i > 0)
        for (const size_t end : {out.places.size() - 1, out.places.size()})
          out.indices.push_back(static_cast<uint32_t>(end));
      out.places.push_back(back * points[i].head<3>());
      out.colors.push_back({to16(tone.x()), to16(tone.y()), to16(tone.z()), 65535});
      out.radii.push_back(points[i].w());
    }
  }
  return out;
}

// Fibres of a layer lie together: calls `each(layer, its fibres)`.
template <class Each>
void eachLayer(const Fibres& fibres, Each each) {
  for (size_t from = 0; from < fibres.fibres.size();) {
    size_t to = from;
    while (to < fibres.fibres.size() && fibres.fibres[to].layer == fibres.fibres[from].layer) ++to;
    each(fibres.fibres[from].layer, std::span(fibres.fibres).subspan(from, to - from));
    from = to;
  }
}

class LineWriter {
 public:
  void add(const std::string& name, const Lines& lines, const Eigen::Vector3d& offset) {
    tinygltf::Primitive primitive;
    primitive.mode = TINYGLTF_MODE_LINE;
    primitive.material = 0;
    Box box;
    for (const Vec3& p : lines.places) box.add(p);
    const int places = accessor(std::span(lines.places), TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_VEC3,
                                TINYGLTF_TARGET_ARRAY_BUFFER);
    model.accessors[static_cast<size_t>(places)].minValues = {box.low.x(), box.low.y(), box.low.z()};
    model.accessors[static_cast<size_t>(places)].maxValues = {box.high.x(), box.high.y(), box.high.z()};
    primitive.attributes["POSITION"] = places;
    const int colors = accessor(std::span(lines.colors), TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT,
                                TINYGLTF_TYPE_VEC4, TINYGLTF_TARGET_ARRAY_BUFFER);
    model.accessors[static_cast<size_t>(colors)].normalized = true;
    primitive.attributes["COLOR_0"] = colors;
    primitive.attributes["_RADIUS"] = accessor(std::span(lines.radii), TINYGLTF_COMPONENT_TYPE_FLOAT,
                                               TINYGLTF_TYPE_SCALAR, TINYGLTF_TARGET_ARRAY_BUFFER);
    primitive.indices = accessor(std::span(lines.indices), TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT,
                                 TINYGLTF_TYPE_SCALAR, TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER);
    tinygltf::Mesh mesh;
    mesh.name = name;
    mesh.primitives.push_back(primitive);
    model.meshes.push_back(mesh);
    tinygltf::Node node;
    node.name = name;
    node.mesh = static_cast<int>(model.meshes.size()) - 1;
    if (!offset.isZero()) node.translation = {offset.x(), offset.y(), offset.z()};
    model.nodes.push_back(node);
  }
  Result<std::string> finish() {
    model.asset.version = "2.0";
    model.asset.generator = "Juvenor";
    tinygltf::Material material;
    material.name = "Hair";
    material.pbrMetallicRoughness.metallicFactor = 0;
    material.pbrMetallicRoughness.roughnessFactor = 0.5;
    model.materials.push_back(material);
    tinygltf::Scene scene;
    for (size_t i = 0; i < model.nodes.size(); ++i) scene.nodes.push_back(static_cast<int>(i));
    model.scenes.push_back(scene);
    model.defaultScene = 0;
    if (bytes_.size() > 0xF0000000u) return Error{"the hair is too much for one glTF file (4 GiB)"};
    tinygltf::Buffer buffer;
    buffer.data = std::move(bytes_);
    model.buffers.push_back(std::move(buffer));
    std::ostringstream out(std::ios::binary);
    tinygltf::TinyGLTF writer;
    if (!writer.WriteGltfSceneToStream(&model, out, false, true)) return Error{"the glTF writer failed"};
    return std::move(out).str();
  }

 private:
  template <class T>
  int accessor(std::span<const T> values, int component, int type, int target) {
    tinygltf::BufferView view;
    view.buffer = 0;
    view.byteOffset = bytes_.size();
    view.byteLength = values.size_bytes();
    view.target = target;
    const auto* from = reinterpret_cast<const unsigned char*>(values.data());
    bytes_.insert(bytes_.end(), from, from + values.size_bytes());
    model.bufferViews.push_back(view);
    tinygltf::Accessor a;
    a.bufferView = static_cast<int>(model.bufferViews.size()) - 1;
    a.count = values.size();
    a.componentType = component;
    a.type = type;
    model.accessors.push_back(a);
    return static_cast<int>(model.accessors.size()) - 1;
  }

  tinygltf::Model model;
  std::vector<unsigned char> bytes_;
};

}  // namespace

std::string hairAsObj(const Document& document, const Fibres& fibres) {
  const Eigen::Matrix3d back = document.surface->turn.transpose().cast<double>();
  std::string out = "# Hair as lines, from root to tip\n";
  auto at = std::back_inserter(out);
  size_t written = 0;
  eachLayer(fibres, [&](uint32_t layer, std::span<const Fibre> own) {
    std::string name = nameOf(document, layer);
    std::ranges::replace_if(
        name, [](char c) { return c == '\n' || c == '\r'; }, ' ');
    fmt::format_to(at, "o {}\n", name);
    for (const Fibre& fibre : own) {
      const Vec3 tone = toneOf(fibre);
      const EncodedColor c = encode({tone.x(), tone.y(), tone.z()});
      const auto points = shownPoints(fibres, fibre);
      for (const FibrePoint& p : points) {
        const Eigen::Vector3d place = back * p.head<3>().cast<double>() + document.sculpt->offset;
        fmt::format_to(at, "v {:.9g} {:.9g} {:.9g} {:.4f} {:.4f} {:.4f}\n", place.x(), place.y(), place.z(),
                       c.r, c.g, c.b);
      }
      out += 'l';
      for (size_t i = 0; i < points.size(); ++i) fmt::format_to(at, " {}", ++written);
      out += '\n';
    }
  });
  return out;
}

Result<std::string> hairAsGlb(const Document& document, const Fibres& fibres) {
  LineWriter writer;
  eachLayer(fibres, [&](uint32_t layer, std::span<const Fibre> own) {
    writer.add(nameOf(document, layer), linesOf(document, fibres, own), document.sculpt->offset);
  });
  return writer.finish();
}

Outcome writeHair(const std::filesystem::path& file, const Document& document, const Progress& progress) {
  const std::string ending = endingOf(file);
  if (ending != "obj" && ending != "glb") return Error{"hair is written as .obj or .glb", file.string()};
  const auto hair = grownHair(document, progress);
  if (!hair) return hair.error();
  if (!*hair) return Error{"no layer of hair shows anything"};
  const Fibres& fibres = (*hair)->fibres();
  if (ending == "obj") return writeBytes(file, hairAsObj(document, fibres));
  const auto bytes = hairAsGlb(document, fibres);
  if (!bytes) return bytes.error();
  return writeBytes(file, *bytes);
}

}  // namespace juvenor
