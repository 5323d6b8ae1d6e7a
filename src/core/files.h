// Whole files as bytes.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "core/result.h"

namespace juvenor {

/// Reads a whole file. Errors name the file, the line or byte, and what was expected.
Result<std::string> readBytes(const std::filesystem::path& path);
/// Writes beside the target and renames, so that a failure leaves an old file as it was.
Outcome writeBytes(const std::filesystem::path& path, std::string_view bytes);

}  // namespace juvenor
