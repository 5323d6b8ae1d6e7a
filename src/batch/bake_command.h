// What `juvenor-batch bake` is told, and its options.
#pragma once

#include <CLI/CLI.hpp>
#include <functional>

#include "batch/script_lookup.h"

namespace juvenor::batch {

struct BakeCommand {
  std::filesystem::path document, folder;
  std::string maps = "colour,roughness,normal,height";  ///< see textureWishFrom; with commas between
  std::string name;                                     ///< empty: the document's
  std::string format = "png", depth;                    ///< depth empty: what suits each map
  int size = 4096, samples = 4;
  std::string tiles;           ///< numbers with commas between; empty: all
  std::string padding = "16";  ///< texels, or "all"
  std::filesystem::path mesh;  ///< another mesh; empty: the sculpt itself
  PlacementSaid meshStands;
  std::string set;  ///< the UV set's name; empty: the first
  std::string normals = "everything";
  std::optional<float> reach;  ///< mm
  std::string meshFile;        ///< "glb", "obj", or empty: none
  bool greenDown = false, layered = false, variants = false, force = false;
};
/// Writes the maps; prints what was written as JSON.
Outcome bake(const BakeCommand& said);

CLI::App* addBake(CLI::App& app, BakeCommand& said, const std::function<void(CLI::App*)>& forces);

}  // namespace juvenor::batch
