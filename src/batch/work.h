// Documents and sculpts as the commands open and save them.
#pragma once

#include "batch/script_lookup.h"
#include "core/document/history.h"
#include "core/document/store/store.h"

namespace juvenor::batch {

namespace fs = std::filesystem;

bool isDocument(const fs::path& file);

struct Work {
  Store store;
  History history;
};
Result<Work> openWork(const fs::path& file, bool readOnly);
/// The step a document shows.
Result<Document> documentIn(const fs::path& file);
/// A document over a sculpt's file.
Result<Document> documentOver(const fs::path& sculpt, const PlacementSaid& said = {});
/// Whether a file may be written over what is there: a document, or a sculpt that is none of this program's,
/// only when that is said.
Outcome mayWrite(const fs::path& file, bool force);
/// With one step of this name.
Outcome saveNew(const fs::path& file, Document document, const std::string& name);

}  // namespace juvenor::batch
