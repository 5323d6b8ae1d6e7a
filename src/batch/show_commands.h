// What shows a document to others: `juvenor-batch still`, `film`, `join`, `contact` and `passes`.
#pragma once

#include <CLI/CLI.hpp>
#include <functional>

#include "batch/look_said.h"

namespace juvenor::batch {

/// Adds the commands; each leaves what came of it in `done`, and all they hold in `app`.
void addShow(CLI::App& app, Outcome& done, const std::function<void(CLI::App*)>& forces, const bool& force);

}  // namespace juvenor::batch
