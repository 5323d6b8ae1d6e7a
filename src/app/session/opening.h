// Reading work from files so that the easel need not wait for it afterwards. For any thread but the window's.
#pragma once

#include <filesystem>

#include "core/document/store/store.h"

namespace juvenor::app {

/// Opened work with everything that the layers of its current step need measured.
Result<Opened> allPrepared(Result<Opened> opened, const Progress& progress);

/// The work in a document's file, prepared; of steps that take more than `budget` bytes the oldest give way.
Result<Opened> openedAndPrepared(const std::filesystem::path& file, const Progress& progress, size_t budget);

}  // namespace juvenor::app
