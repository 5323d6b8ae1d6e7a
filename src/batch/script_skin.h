// Steps of a script for what skin is made of: masks, maps, ramps, hue zones, the board.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace juvenor::batch {

struct ScriptCommand {
  std::string_view key;
  std::initializer_list<std::string_view> keys;  ///< that a step may have beside "do"
  Result<Document> (*run)(const nlohmann::json& step, const Document& document);
  bool looks = false;  ///< it changes nothing in the document
};
std::span<const ScriptCommand> skinCommands();

}  // namespace juvenor::batch
