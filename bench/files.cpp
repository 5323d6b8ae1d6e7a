// Reading a big sculpt, against reading its bytes and against assimp on the same file.
#include <assimp/scene.h>
#include <fmt/format.h>

#include <assimp/Importer.hpp>
#include <filesystem>

#include "core/files.h"
#include "core/sculpt/formats.h"
#include "figures.h"

namespace juvenor::bench {

void benchFiles() {
  const Document& d = ferryman(2'000'000);
  const auto folder = std::filesystem::temp_directory_path();
  for (const char* ending : {"ply", "obj"}) {
    const auto file = folder / (std::string("juvenor-bench.") + ending);
    VertexFinish finish;
    finish.colors.assign(d.sculpt->vertices.size(), {30000, 20000, 10000, 65535});
    if (!writeSculpt(file, *d.sculpt, finish)) continue;
    const double bytes = secondsOf(
        "bytes", [&] { (void)readBytes(file); }, 3);
    const double ours = secondsOf(
        "own reader", [&] { (void)readSculpt(file); }, 3);
    const double theirs = secondsOf(
        "assimp",
        [&] {
          Assimp::Importer importer;
          (void)importer.ReadFile(file.string(), 0);
        },
        3);
    const double surface = secondsOf(
        "surface", [&] { (void)buildSurface(*d.sculpt); }, 3);
    add({fmt::format("Reading a 2 M {}", ending), milliseconds(ours),
         "reading its bytes: " + milliseconds(bytes), fmt::format("{:.1f}", ours / bytes), "≤ 4"});
    add({fmt::format("Reading a 2 M {}", ending), milliseconds(ours), "assimp: " + milliseconds(theirs),
         fmt::format("{:.2f}", ours / theirs), "< 1"});
    if (std::string_view(ending) == "ply")
      add({"Surface of it (order, neighbours, normals)", milliseconds(surface),
           "reading it: " + milliseconds(ours), fmt::format("{:.1f}", surface / ours), "≤ 1.5"});
    std::filesystem::remove(file);
  }
}

}  // namespace juvenor::bench
