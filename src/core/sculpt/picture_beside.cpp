#include "core/sculpt/material.h"

namespace juvenor {

bool liesWithin(const std::filesystem::path& folder, const std::string& name) {
  namespace fs = std::filesystem;
  if (name.empty() || name.find('\0') != std::string::npos || fs::path(name).is_absolute()) return false;
  std::error_code ec;
  const fs::path base = fs::weakly_canonical(folder.empty() ? fs::path(".") : folder, ec);
  if (ec) return false;
  // links are followed first: one that leads outside is outside
  const fs::path file = fs::weakly_canonical(base / name, ec);
  if (ec || !fs::is_regular_file(file, ec)) return false;
  const fs::path inside = file.lexically_relative(base);
  return !inside.empty() && *inside.begin() != "..";
}

}  // namespace juvenor
