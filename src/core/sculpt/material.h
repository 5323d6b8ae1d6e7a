// What a mesh wears when it leaves: pictures by the metallic–roughness model of glTF 2.0, and what stands
// around it when that is wished for.
#pragma once

#include <array>
#include <filesystem>
#include <string>
#include <vector>

#include "core/vec.h"

namespace juvenor {

/// A picture in the file, or beside it where it has no bytes.
struct MaterialPicture {
  std::string name;   ///< of the file, or what it is called inside
  std::string bytes;  ///< of a PNG file
};

/// Which picture shows what, by number; −1: none.
struct Material {
  std::string name;
  int baseColor = -1;              ///< sRGB-encoded
  int metallicRoughness = -1;      ///< roughness in green, metal in blue
  int normal = -1;                 ///< tangent space, green up
  int occlusion = -1;              ///< in red; 1 is open
  int emission = -1;               ///< sRGB-encoded: the light it shines with
  int coat = -1;                   ///< in red: a clear wet film (KHR_materials_clearcoat)
  int fuzz = -1;                   ///< sRGB-encoded: down (KHR_materials_sheen)
  int roughness = -1, metal = -1;  ///< each in a picture of its own, for formats that have them so
};

/// How a coat and down are told to others: the film's roughness, what white down scatters, and how evenly.
inline constexpr double kCoatRoughness = 0.06, kFuzzSheen = 0.3, kFuzzRoughness = 0.5;

/// A camera as glTF has them: it looks along −z of its own axes.
struct HandedCamera {
  Eigen::Matrix4f pose = Eigen::Matrix4f::Identity();  ///< from its axes to the mesh's
  float fieldOfView = 0.5f;                            ///< radians, over the height
  float halfHeight = 0;                                ///< above 0: parallel, scene units
  float aspect = 1;
  float nearest = 0.1f, farthest = 100;  ///< scene units
};
/// A lamp far away (KHR_lights_punctual).
struct HandedLamp {
  std::string name;
  Vec3 toward = Vec3::UnitZ();  ///< from the mesh to it
  Vec3 color = Vec3::Ones();    ///< linear, its largest 1
  float lux = 1;
};

/// Another version of all materials (KHR_materials_variants).
struct MaterialVariant {
  std::string name;
  std::vector<uint32_t> materials;  ///< for each material polygons have, which one stands for it
};

struct MaterialSet {
  std::vector<MaterialPicture> pictures;
  std::vector<Material> materials;
  std::vector<uint32_t> polygonMaterial;  ///< one for each polygon
  std::vector<Vec2> tileOrigin;           ///< of each material: its tile's lower left corner
  /// Of each triangle's corners (each_triangle.h): direction, and the side of the bitangent with v going up;
  /// empty: none.
  std::vector<std::array<Eigen::Vector4f, 3>> tangents;
  std::vector<HandedCamera> cameras;
  std::vector<HandedLamp> lamps;
  std::vector<MaterialVariant> variants;
};

/// A texture as a file brings it. Its place in a picture is `matrix` · (u, v) + `offset` of a UV set, v
/// downward.
struct BroughtTexture {
  int picture = -1;  ///< −1: none
  size_t uvSet = 0;
  Eigen::Matrix2f matrix = Eigen::Matrix2f::Identity();
  Vec2 offset = Vec2::Zero();
  int plane = 0;  ///< of numbers: which of the picture's values
};
struct BroughtMaterial {
  std::string name;
  BroughtTexture baseColor, roughness, metal, normal, occlusion, emission, coat, fuzz;
  Vec3 colorFactor = Vec3::Ones();  ///< linear; what the texture says is multiplied by it
  float roughnessFactor = 1, metalFactor = 1;
  Vec3 emissionFactor = Vec3::Ones();  ///< linear; what the texture says is multiplied by it
  float coatFactor = 0;
  Vec3 fuzzFactor = Vec3::Zero();  ///< linear
};
/// What a sculpt's file brought to be worn. Pictures that could not be had have no bytes.
struct BroughtMaterials {
  std::vector<MaterialPicture> pictures;
  std::vector<BroughtMaterial> materials;
  std::vector<uint32_t> polygonMaterial;  ///< one for each polygon; kNone: none
};

/// A file that another one names, read from the folder that one lies in or from below it; nothing outside is
/// opened. (picture_beside.cpp)
bool liesWithin(const std::filesystem::path& folder, const std::string& name);

}  // namespace juvenor
