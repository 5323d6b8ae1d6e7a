// Whole files as bytes.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>

#include "core/result.h"

namespace juvenor {

/// Reads a whole file. Errors name the file, the line or byte, and what was expected.
Result<std::string> readBytes(const std::filesystem::path& path);
/// Has `write` fill a file beside the target and puts it in its place when it is whole: whatever fails leaves
/// an old file as it was.
Outcome replacedWhole(const std::filesystem::path& path,
                      const std::function<Outcome(const std::filesystem::path& partial)>& write);
/// Bytes the same way.
Outcome writeBytes(const std::filesystem::path& path, std::string_view bytes);

}  // namespace juvenor
