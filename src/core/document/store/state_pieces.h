// What the states of many steps have in common, told once: each layer and each checkpoint is a piece, and
// states name pieces by their numbers. A history of thousands of strokes over thirty layers and five
// checkpoints is told in as many short lists, and each piece is understood once.
#pragma once

#include <map>
#include <nlohmann/json.hpp>
#include <unordered_map>

#include "core/document/store/database.h"
#include "core/document/store/state_json.h"

namespace juvenor {

class StatePieces {
 public:
  /// Puts numbers in place of the layers and checkpoints of a state; what the file does not have yet is
  /// written to it. What is no state stays as it is.
  Outcome take(Database& db, nlohmann::json& state);
  /// Understands the numbers of states that `take` made, and layers and checkpoints that stand in them whole.
  /// It stands on `db` and on this.
  PieceReader reader(Database& db);
  /// What a number stands for, as JSON; what is no number is itself.
  Result<const nlohmann::json*> whole(Database& db, const nlohmann::json& said);
  /// Those that no step's state names go.
  Outcome dropUnused(Database& db);
  /// Whatever was known of the file is asked again.
  void forget();

 private:
  Outcome listKnown(Database& db);
  Outcome takeOne(Database& db, nlohmann::json& piece);
  Result<LayerPointer> layer(Database& db, const nlohmann::json& said, size_t samples);

  bool listed_ = false;
  std::unordered_map<std::string, int64_t> idOf_;  ///< by the text; whole once it was listed
  std::map<int64_t, nlohmann::json> checkpoints_;
  std::map<std::pair<int64_t, size_t>, LayerPointer>
      layers_;  ///< by number and samples, without what was painted
};

}  // namespace juvenor
