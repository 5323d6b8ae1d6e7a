#include "core/sculpt/gltf_materials.h"

#include <algorithm>

namespace juvenor {
namespace {

constexpr const char* kVariants = "KHR_materials_variants";

std::vector<double> poseOf(const Eigen::Matrix4f& pose, const Eigen::Vector3d& offset) {
  std::vector<double> out;
  for (int column = 0; column < 4; ++column)
    for (int row = 0; row < 4; ++row) {
      double v = static_cast<double>(pose(row, column));
      if (column == 3 && row < 3) v += offset[row];
      out.push_back(v);
    }
  return out;
}

tinygltf::Value textureAt(int texture) {
  tinygltf::Value::Object out;
  out["index"] = tinygltf::Value(texture);
  return tinygltf::Value(out);
}

void use(tinygltf::Model& model, const std::string& extension) {
  if (std::ranges::find(model.extensionsUsed, extension) == model.extensionsUsed.end())
    model.extensionsUsed.push_back(extension);
}

// A film as smooth as water, and down that scatters evenly, as they are seen here.
void addFilms(const Material& m, tinygltf::Material& out, tinygltf::Model& model) {
  if (m.coat >= 0) {
    tinygltf::Value::Object coat;
    coat["clearcoatFactor"] = tinygltf::Value(1.0);
    coat["clearcoatTexture"] = textureAt(m.coat);
    coat["clearcoatRoughnessFactor"] = tinygltf::Value(kCoatRoughness);
    out.extensions["KHR_materials_clearcoat"] = tinygltf::Value(coat);
    use(model, "KHR_materials_clearcoat");
  }
  if (m.fuzz >= 0) {
    tinygltf::Value::Object sheen;
    sheen["sheenColorFactor"] = tinygltf::Value(tinygltf::Value::Array(3, tinygltf::Value(kFuzzSheen)));
    sheen["sheenColorTexture"] = textureAt(m.fuzz);
    sheen["sheenRoughnessFactor"] = tinygltf::Value(kFuzzRoughness);
    out.extensions["KHR_materials_sheen"] = tinygltf::Value(sheen);
    use(model, "KHR_materials_sheen");
  }
}

void addNode(tinygltf::Node node, tinygltf::Model& model, tinygltf::Scene& scene) {
  model.nodes.push_back(std::move(node));
  scene.nodes.push_back(static_cast<int>(model.nodes.size()) - 1);
}

}  // namespace

void addMaterials(const MaterialSet& materials, tinygltf::Model& model,
                  const std::function<int(std::string_view)>& viewOf) {
  for (const MaterialPicture& picture : materials.pictures) {
    tinygltf::Image image;
    image.name = picture.name;
    image.mimeType = "image/png";
    image.bufferView = viewOf(picture.bytes);
    model.images.push_back(std::move(image));
    tinygltf::Texture texture;
    texture.source = static_cast<int>(model.images.size()) - 1;
    texture.sampler = 0;
    model.textures.push_back(texture);
  }
  if (!materials.pictures.empty()) {
    tinygltf::Sampler sampler;
    sampler.magFilter = TINYGLTF_TEXTURE_FILTER_LINEAR;
    sampler.minFilter = TINYGLTF_TEXTURE_FILTER_LINEAR_MIPMAP_LINEAR;
    sampler.wrapS = sampler.wrapT = TINYGLTF_TEXTURE_WRAP_CLAMP_TO_EDGE;
    model.samplers.push_back(sampler);
  }
  for (const Material& m : materials.materials) {
    tinygltf::Material out;
    out.name = m.name;
    auto& look = out.pbrMetallicRoughness;
    look.baseColorTexture.index = m.baseColor;
    look.metallicRoughnessTexture.index = m.metallicRoughness;
    look.metallicFactor = m.metallicRoughness >= 0 ? 1 : 0;
    look.roughnessFactor = m.metallicRoughness >= 0 ? 1 : 0.6;
    out.normalTexture.index = m.normal;
    out.occlusionTexture.index = m.occlusion;
    out.emissiveTexture.index = m.emission;
    if (m.emission >= 0) out.emissiveFactor = {1, 1, 1};
    addFilms(m, out, model);
    model.materials.push_back(std::move(out));
  }
}

void addSurroundings(const MaterialSet& materials, const Eigen::Vector3d& offset, tinygltf::Model& model,
                     tinygltf::Scene& scene) {
  for (const HandedCamera& c : materials.cameras) {
    tinygltf::Camera camera;
    camera.name = "Camera";
    if (c.halfHeight > 0) {
      camera.type = "orthographic";
      camera.orthographic.ymag = static_cast<double>(c.halfHeight);
      camera.orthographic.xmag = static_cast<double>(c.halfHeight * c.aspect);
      camera.orthographic.znear = static_cast<double>(c.nearest);
      camera.orthographic.zfar = static_cast<double>(c.farthest);
    } else {
      camera.type = "perspective";
      camera.perspective.yfov = static_cast<double>(c.fieldOfView);
      camera.perspective.aspectRatio = static_cast<double>(c.aspect);
      camera.perspective.znear = static_cast<double>(c.nearest);
      camera.perspective.zfar = static_cast<double>(c.farthest);
    }
    model.cameras.push_back(camera);
    tinygltf::Node node;
    node.name = camera.name;
    node.matrix = poseOf(c.pose, offset);
    node.camera = static_cast<int>(model.cameras.size()) - 1;
    addNode(std::move(node), model, scene);
  }
  for (const HandedLamp& lamp : materials.lamps) {
    tinygltf::Light light;
    light.name = lamp.name;
    light.type = "directional";
    light.intensity = static_cast<double>(lamp.lux);
    for (const float v : lamp.color) light.color.push_back(static_cast<double>(v));
    model.lights.push_back(light);
    // it shines along −z of its node
    const Eigen::Quaternionf turn = turnBetween<float>(Vec3::UnitZ(), lamp.toward);
    tinygltf::Node node;
    node.name = lamp.name;
    node.rotation = {static_cast<double>(turn.x()), static_cast<double>(turn.y()),
                     static_cast<double>(turn.z()), static_cast<double>(turn.w())};
    tinygltf::Value::Object which;
    which["light"] = tinygltf::Value(static_cast<int>(model.lights.size()) - 1);
    node.extensions["KHR_lights_punctual"] = tinygltf::Value(which);
    addNode(std::move(node), model, scene);
  }
}

void addVariants(const MaterialSet& materials, tinygltf::Model& model) {
  if (materials.variants.empty()) return;
  tinygltf::Value::Array names;
  for (const MaterialVariant& variant : materials.variants)
    names.emplace_back(tinygltf::Value::Object{{"name", tinygltf::Value(variant.name)}});
  model.extensions[kVariants] =
      tinygltf::Value(tinygltf::Value::Object{{"variants", tinygltf::Value(names)}});
  use(model, kVariants);
}

void setVariants(const MaterialSet& materials, uint32_t material, tinygltf::Primitive& primitive) {
  if (materials.variants.empty()) return;
  tinygltf::Value::Array mappings;
  for (size_t v = 0; v < materials.variants.size(); ++v)
    mappings.emplace_back(tinygltf::Value::Object{
        {"material", tinygltf::Value(static_cast<int>(materials.variants[v].materials[material]))},
        {"variants", tinygltf::Value(tinygltf::Value::Array{tinygltf::Value(static_cast<int>(v))})}});
  primitive.extensions[kVariants] =
      tinygltf::Value(tinygltf::Value::Object{{"mappings", tinygltf::Value(mappings)}});
}

}  // namespace juvenor
