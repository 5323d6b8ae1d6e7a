#include "app/brush_roll/roll_sets.h"

#include <fmt/format.h>

#include "core/files.h"

namespace juvenor::app {
namespace {

std::filesystem::path fileOfKept() {
  return brushFolder() / "kept.juvenor-brushes";
}

}  // namespace

Result<BrushRoll> keptBrushes() {
  std::error_code ignored;
  if (!std::filesystem::exists(fileOfKept(), ignored)) return BrushRoll();
  const auto text = readBytes(fileOfKept());
  if (!text) return text.error();
  return decodedRoll(*text, fileOfKept().string());
}

Outcome keepBrushes(const BrushRoll& roll) {
  const auto text = encodedRoll(roll);
  if (!text) return text.error();
  std::error_code failed;
  std::filesystem::create_directories(brushFolder(), failed);
  if (failed) return Error{"cannot be made (" + failed.message() + ")", brushFolder().string()};
  return writeBytes(fileOfKept(), *text);
}

Result<std::filesystem::path> putBrushesAside() {
  std::error_code failed;
  for (int n = 1;; ++n) {
    const auto aside = brushFolder() / fmt::format("unreadable {}.juvenor-brushes", n);
    if (std::filesystem::exists(aside, failed)) continue;
    std::filesystem::rename(fileOfKept(), aside, failed);
    if (failed) return Error{"cannot be put aside (" + failed.message() + ")", fileOfKept().string()};
    return aside;
  }
}

}  // namespace juvenor::app
