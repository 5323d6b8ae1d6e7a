// What a script's step may ask for: a word, the keys it understands, and the edit it does.
#pragma once

#include <nlohmann/json.hpp>

#include <span>
#include <vector>

#include "core/document/document.h"

namespace juvenor::batch {

struct ScriptCommand {
  std::string_view key;
  std::initializer_list<std::string_view> keys;  ///< that a step may have beside "do"
  Result<Document> (*run)(const nlohmann::json& step, const Document& document);
  bool looks = false;     ///< it changes nothing in the document
  bool channels = false;  ///< a step may give values of channels, by their keys
};

/// All a step may have beside "do".
std::vector<std::string_view> keysOf(const ScriptCommand& command);

}  // namespace juvenor::batch
