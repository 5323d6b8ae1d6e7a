// Documents as earlier versions wrote them, made from what this one writes.
#pragma once

#include "core/document/store/database.h"

namespace juvenor::test {

/// Format 8 had no UV sets that were made here, and neither it nor the next a second sculpt, and none before
/// 11 parts made here and no rest pose.
inline Outcome asFormat8(Database& db) {
  return db.run(
      "DROP TABLE parts; DROP TABLE rest; DROP TABLE sculpt; DROP TABLE uvs; PRAGMA user_version = 8;");
}

/// Format 7 had layers whole in the states of steps, and no pieces. For documents without checkpoints.
inline Outcome asFormat7(Database& db) {
  if (const Outcome later = asFormat8(db); !later) return later;
  return db.run(
      "UPDATE step SET state = json_set(state, '$.layers', (SELECT json_group_array(json(piece.state)) FROM "
      "json_each(step.state, '$.layers') JOIN piece ON piece.id = value)); DROP TABLE piece; PRAGMA "
      "user_version = 7;");
}

}  // namespace juvenor::test
