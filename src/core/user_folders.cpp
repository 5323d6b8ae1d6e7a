#include "core/user_folders.h"

#include <cstdlib>

namespace juvenor {
namespace fs = std::filesystem;
namespace {

// The folder a variable names, else one below the user's home; without a home a temporary one.
fs::path folderOf(const char* variable, const char* belowHome) {
  const char* named = std::getenv(variable);
  const char* home = std::getenv("HOME");
  const fs::path root = named && *named ? fs::path(named) : fs::path(home ? home : "/tmp") / belowHome;
  return root / "juvenor";
}

}  // namespace

fs::path dataFolder() {
  return folderOf("XDG_DATA_HOME", ".local/share");
}

fs::path stateFolder() {
  return folderOf("XDG_STATE_HOME", ".local/state");
}

}  // namespace juvenor
