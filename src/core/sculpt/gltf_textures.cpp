#include "core/sculpt/gltf_textures.h"

#include <fmt/format.h>

#include <cmath>

#include "core/files.h"

namespace juvenor {
namespace {

double numberOr(const tinygltf::Value& v, double usual) {
  return v.IsNumber() && std::isfinite(v.GetNumberAsDouble()) ? v.GetNumberAsDouble() : usual;
}

// The extension turns them counterclockwise as the picture is seen (from memory).
template <class Info>
UvTransform transformOf(const Info& texture) {
  UvTransform out;
  const auto found = texture.extensions.find("KHR_texture_transform");
  if (texture.index < 0 || found == texture.extensions.end()) return out;
  const tinygltf::Value& said = found->second;
  const auto pair = [&](const char* key, double usual) {
    const tinygltf::Value& v = said.Get(key);
    return v.IsArray() && v.ArrayLen() == 2
               ? Eigen::Vector2d(numberOr(v.Get(0), usual), numberOr(v.Get(1), usual))
               : Eigen::Vector2d(usual, usual);
  };
  out.set = said.Has("texCoord") ? static_cast<int>(numberOr(said.Get("texCoord"), -1)) : texture.texCoord;
  const double turn = numberOr(said.Get("rotation"), 0);
  Eigen::Matrix2d rotation;
  rotation << std::cos(turn), std::sin(turn), -std::sin(turn), std::cos(turn);
  out.matrix = rotation * pair("scale", 1).asDiagonal();
  out.offset = pair("offset", 0);
  return out;
}

int sourceOf(const tinygltf::Model& model, int texture) {
  if (texture < 0 || static_cast<size_t>(texture) >= model.textures.size()) return -1;
  const tinygltf::Texture& t = model.textures[static_cast<size_t>(texture)];
  const auto webp = t.extensions.find("EXT_texture_webp");
  if (webp != t.extensions.end() && webp->second.Has("source"))
    return static_cast<int>(numberOr(webp->second.Get("source"), -1));
  return t.source;
}

// A texture by the UVs as the sculpt has them, which `shown` has moved already.
template <class Info>
BroughtTexture textureOf(const tinygltf::Model& model, const Info& info, const UvTransform& shown,
                         int plane) {
  BroughtTexture out;
  out.picture = sourceOf(model, info.index);
  if (out.picture < 0 || static_cast<size_t>(out.picture) >= model.images.size()) return {};
  const UvTransform own = transformOf(info);
  const int set = own.set >= 0 ? own.set : info.texCoord;
  out.uvSet = static_cast<size_t>(std::max(0, set));
  out.plane = plane;
  Eigen::Matrix2d matrix = own.matrix;
  Eigen::Vector2d offset = own.offset;
  if (set == shown.set && std::abs(shown.matrix.determinant()) > 1e-12) {
    matrix = own.matrix * shown.matrix.inverse();
    offset = own.offset - matrix * shown.offset;
  }
  if (!matrix.allFinite() || !offset.allFinite()) return {};
  out.matrix = matrix.cast<float>();
  out.offset = offset.cast<float>();
  return out;
}

// What an extension says of a material; null where it says nothing.
const tinygltf::Value* saidBy(const tinygltf::Material& material, const char* extension) {
  const auto found = material.extensions.find(extension);
  return found == material.extensions.end() || !found->second.IsObject() ? nullptr : &found->second;
}

// A texture that an extension names, as the library reads those of the standard.
tinygltf::TextureInfo textureIn(const tinygltf::Value& said, const char* key) {
  tinygltf::TextureInfo out;
  const tinygltf::Value& texture = said.Get(key);
  if (!texture.IsObject()) return out;
  const auto whole = [&](const char* name, int usual) {
    const double v = numberOr(texture.Get(name), usual);
    return v >= -1 && v < 1e6 ? static_cast<int>(v) : usual;
  };
  out.index = whole("index", -1);
  out.texCoord = std::max(0, whole("texCoord", 0));
  const tinygltf::Value& extensions = texture.Get("extensions");
  if (extensions.IsObject() && extensions.Has("KHR_texture_transform"))
    out.extensions["KHR_texture_transform"] = extensions.Get("KHR_texture_transform");
  return out;
}

bool keepBytes(tinygltf::Image*, const int index, std::string*, std::string*, int, int,
               const unsigned char* bytes, int size, void* into) {
  auto& images = *static_cast<std::vector<std::string>*>(into);
  if (index < 0 || size < 0) return true;
  if (images.size() <= static_cast<size_t>(index)) images.resize(static_cast<size_t>(index) + 1);
  images[static_cast<size_t>(index)].assign(reinterpret_cast<const char*>(bytes), static_cast<size_t>(size));
  return true;
}

bool isWithin(const std::string& file, const std::filesystem::path& folder) {
  // (the library puts the folder, or the one the program runs in, before what the file names)
  std::error_code ec;
  const auto inside = std::filesystem::path(file).lexically_relative(folder.empty() ? "." : folder);
  return !inside.empty() && liesWithin(folder, inside.string());
}

}  // namespace

UvTransform shownTransform(const tinygltf::Model& model, int material) {
  if (material < 0 || static_cast<size_t>(material) >= model.materials.size()) return {};
  return transformOf(model.materials[static_cast<size_t>(material)].pbrMetallicRoughness.baseColorTexture);
}

void keepImages(tinygltf::TinyGLTF& loader, std::vector<std::string>& bytes,
                const std::filesystem::path& folder) {
  loader.SetImageLoader(keepBytes, &bytes);
  tinygltf::FsCallbacks files;
  files.FileExists = [](const std::string& file, void* in) {
    return isWithin(file, *static_cast<const std::filesystem::path*>(in));
  };
  files.ExpandFilePath = [](const std::string& file, void*) { return file; };
  files.ReadWholeFile = [](std::vector<unsigned char>* out, std::string* problem, const std::string& file,
                           void* in) {
    if (!isWithin(file, *static_cast<const std::filesystem::path*>(in))) return false;
    const auto read = readBytes(file);
    if (read)
      out->assign(read->begin(), read->end());
    else if (problem)
      *problem += read.error().what;
    return static_cast<bool>(read);
  };
  files.WriteWholeFile = nullptr;
  files.user_data = const_cast<std::filesystem::path*>(&folder);
  loader.SetFsCallbacks(files);
}

BroughtMaterials materialsOf(const tinygltf::Model& model, std::vector<std::string> images,
                             std::vector<std::string>& remarks) {
  BroughtMaterials out;
  images.resize(model.images.size());
  for (size_t i = 0; i < images.size(); ++i) {
    const tinygltf::Image& image = model.images[i];
    const std::string name = !image.uri.empty()    ? image.uri
                             : !image.name.empty() ? image.name
                                                   : fmt::format("{}", i + 1);
    if (images[i].empty() && image.mimeType != "image/ktx2")
      remarks.push_back(
          fmt::format("the texture “{}” is not there, empty, or outside the file's folder", name));
    else if (images[i].empty() || image.mimeType == "image/ktx2")
      remarks.push_back(fmt::format("the texture “{}” is of a kind this program does not read", name));
    out.pictures.push_back({name, image.mimeType == "image/ktx2" ? std::string() : std::move(images[i])});
  }
  for (size_t m = 0; m < model.materials.size(); ++m) {
    const tinygltf::Material& material = model.materials[m];
    const tinygltf::PbrMetallicRoughness& pbr = material.pbrMetallicRoughness;
    const UvTransform shown = shownTransform(model, static_cast<int>(m));
    BroughtMaterial made;
    made.name = material.name;
    made.baseColor = textureOf(model, pbr.baseColorTexture, shown, 0);
    made.roughness = textureOf(model, pbr.metallicRoughnessTexture, shown, 1);
    made.metal = textureOf(model, pbr.metallicRoughnessTexture, shown, 2);
    made.normal = textureOf(model, material.normalTexture, shown, 0);
    made.occlusion = textureOf(model, material.occlusionTexture, shown, 0);
    made.emission = textureOf(model, material.emissiveTexture, shown, 0);
    const auto factor = [](double v) {
      return static_cast<float>(std::isfinite(v) ? std::clamp(v, 0.0, 1.0) : 1.0);
    };
    for (size_t c = 0; c < 3 && c < pbr.baseColorFactor.size(); ++c)
      made.colorFactor[static_cast<int>(c)] = factor(pbr.baseColorFactor[c]);
    for (size_t c = 0; c < 3 && c < material.emissiveFactor.size(); ++c)
      made.emissionFactor[static_cast<int>(c)] = factor(material.emissiveFactor[c]);
    made.roughnessFactor = factor(pbr.roughnessFactor);
    made.metalFactor = factor(pbr.metallicFactor);
    if (const tinygltf::Value* coat = saidBy(material, "KHR_materials_clearcoat")) {
      made.coat = textureOf(model, textureIn(*coat, "clearcoatTexture"), shown, 0);
      made.coatFactor = factor(numberOr(coat->Get("clearcoatFactor"), 0));
    }
    if (const tinygltf::Value* sheen = saidBy(material, "KHR_materials_sheen")) {
      made.fuzz = textureOf(model, textureIn(*sheen, "sheenColorTexture"), shown, 0);
      const tinygltf::Value& colors = sheen->Get("sheenColorFactor");
      for (size_t c = 0; c < 3 && colors.IsArray() && c < colors.ArrayLen(); ++c)
        made.fuzzFactor[static_cast<int>(c)] = factor(numberOr(colors.Get(c), 0));
    }
    out.materials.push_back(std::move(made));
  }
  return out;
}

}  // namespace juvenor
