// Where the user's own files lie, by the freedesktop.org base directory specification: what is kept, and what
// is remembered between two starts. (What can be made again goes to the cache, which only the window has.)
#pragma once

#include <filesystem>

namespace juvenor {

/// $XDG_DATA_HOME/juvenor, else ~/.local/share/juvenor: brushes, recipes, grafts.
std::filesystem::path dataFolder();
/// $XDG_STATE_HOME/juvenor, else ~/.local/state/juvenor: journals, and marks of what is open.
std::filesystem::path stateFolder();

}  // namespace juvenor
