// Texture maps onto the skin: each point takes what a map holds over the part of the layout it covers. So
// maps that were painted elsewhere come back, and what scans bring becomes a layer one can paint over.
#pragma once

#include <filesystem>
#include <map>

#include "core/document/document.h"
#include "core/textures/worn_mesh.h"

namespace juvenor {

enum class BringAs : uint8_t {
  Colour,
  Gloss,
  Roughness,
  Metal,
  Glow,
  Height,
  Normal,
  Mask,
  Wander,
  Coat,
  Fuzz
};
/// "colour", "gloss", …
std::string_view bringAsKey(BringAs as);
std::optional<BringAs> bringAsFromKey(std::string_view key);

/// What a file's name says it holds, by the words that are common practice in names of maps ("_albedo",
/// "rough",
/// "_nrm" …); a colour where it says nothing.
BringAs bringAsByName(std::string_view fileName);

/// A picture of a tile, by its bytes or the file they are read from.
struct MapSource {
  std::string name;
  std::string bytes = {};  ///< empty: they are read
  std::filesystem::path file = {};
};

struct BroughtMap {
  BringAs as = BringAs::Colour;
  std::map<int, MapSource> tiles;  ///< by number; what lies in others stays bare
  int plane = 0;                   ///< of numbers: which of the picture's values
  /// Of Height in whole numbers: millimetres either way of the middle; floats are millimetres.
  float heightRange = 1;
  bool greenUp = true;  ///< of Normal
};

/// The files of a set of tiles that one of them belongs to (NAME.1001.png), or that file alone as tile 1001.
std::map<int, MapSource> tilesBeside(const std::filesystem::path& file);
/// The range of heights that a description beside the map tells (hand_on.h); nothing: there is none.
std::optional<float> heightRangeBeside(const std::filesystem::path& file);

struct Brought {
  Document document;
  size_t bare = 0;         ///< points that no tile covers
  float texelsAPoint = 0;  ///< how many texels across fall on a point in the middle; above 1 some are lost
  float texelSpacing = 0;  ///< scene units: points this close would keep them all
};

/// All maps as one painted layer over the active one; a mask goes to that layer too. Values of a picture with
/// alpha cover by it. The error names the picture that cannot be read.
Result<Brought> withMaps(const Document& document, size_t uvSet, const std::vector<BroughtMap>& maps,
                         const std::string& name, const Progress& progress = {});

/// How the height grows along the skin by a texel of a normal map (its values, 0…1) at a sample with that
/// normal and the map's tangent; nothing where it says the skin stands on edge.
std::optional<Vec3> slopeOf(const Vec3& up, const Tangent& tangent, const Vec3& texel, bool greenUp);

/// Heights whose slopes are those of normals, by least squares along the skin (a Poisson equation, as in
/// Frankot and Chellappa 1988 for pictures), solved by conjugate gradients over the ladder of coarser skins.
/// `slopes`: how the height grows along the skin at each sample, a vector in its tangent plane; scene units
/// out, of mean 0 on each connected piece. (heights_of_slopes.cpp)
std::vector<float> heightsOfSlopes(const Surface& surface, const SkinLadder& ladder,
                                   std::span<const Vec3> slopes);

}  // namespace juvenor
