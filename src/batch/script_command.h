// What a script's step may ask for: a word, the keys it understands, and the edit it does.
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

}  // namespace juvenor::batch
