// What `juvenor-batch layers` is told, and its options.
#pragma once

#include <CLI/CLI.hpp>
#include <functional>

#include "batch/work.h"

namespace juvenor::batch {

struct LayersCommand {
  fs::path document, out;
  std::string layers;  ///< ids with commas between; empty: all that bring colour and are seen
  int tile = 1001, size = 4096;
  std::string set;  ///< the UV set's name; empty: the first
  bool force = false;
};
/// Writes layers of a document as a layered picture, and beside it what it is compared with when it comes
/// back.
Outcome layers(const LayersCommand& said);

CLI::App* addLayers(CLI::App& app, LayersCommand& said, const std::function<void(CLI::App*)>& forces);

}  // namespace juvenor::batch
